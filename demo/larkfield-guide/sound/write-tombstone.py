"""Writes the tombstone of a trap in libsong.so, with the addresses that its code really has."""
import re
import subprocess
import sys

library, path = sys.argv[1:]
code = subprocess.run(['llvm-objdump-19', '-d', '--demangle', '--no-show-raw-insn', library], capture_output=True, text=True, check=True).stdout
functions = {}
name = None
for line in code.splitlines():
    if head := re.match(r'[0-9a-f]+ <(.*)>:$', line):
        name = head[1]
        functions[name] = []
    elif name and (instruction := re.match(r'\s*([0-9a-f]+):\s+(\S+)\s*(.*)$', line)):
        functions[name].append((int(instruction[1], 16), instruction[2], instruction[3]))

def place(function, operation, operand=''):
    body = next(body for name, body in functions.items() if function in name and '@plt' not in name)
    return next(address for address, op, rest in body if op == operation and operand in rest)

frames = [place('Identifier::loudest', 'brk'), place('Java_com_larkfield_guide_sound_Listener_identify', 'bl', 'loudest')]
build_id = re.search(r'Build ID: (\w+)', subprocess.run(['llvm-readelf-19', '-n', library], capture_output=True, text=True).stdout)[1]
image = '/data/app/~~d2FyYmxlcg==/com.larkfield.guide-c29uZw==/lib/arm64/libsong.so'
lines = [f'      #{index:02} pc {address:016x}  {image} (BuildId: {build_id})' for index, address in enumerate(frames)]
count = len(lines)
lines.append(f'      #{count:02} pc 0000000000000a44  /apex/com.android.art/lib64/libart.so (art_quick_generic_jni_trampoline+148) (BuildId: 7fa04bb1d0d94a0c8d2f6a5a0f8f3c11)')
open(path, 'w').write(f'''*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
Build fingerprint: 'brill/6a/6a:14/UP1A.231005/1:user/release-keys'
Revision: '0'
ABI: 'arm64'
Timestamp: 2026-01-01 09:12:44.100+0000
Process uptime: 214s
pid: 9120, tid: 9164, name: song-listener  >>> com.larkfield.guide <<<
uid: 10231
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007a1c3f{frames[0]:04x}
backtrace:
''' + '\n'.join(lines) + '\n')

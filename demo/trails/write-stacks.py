"""Writes the stacks that Dart's runtime prints of one build, with the addresses that its code really has."""
import json
import os
import re
import sys

sys.path.insert(0, os.path.join(os.path.dirname(os.path.abspath(__file__)), '..'))
from machine_code import Code, run

binary, version, folder = sys.argv[1:]
code = Code(binary)
build_id = re.search(r'Build ID: (\w+)', run('llvm-readelf-19', '-n', binary))[1]
isolate = next(int(line.split()[1], 16) for line in run('llvm-readelf-19', '-s', binary).splitlines() if line.endswith(' _kDartIsolateSnapshotInstructions'))
dso = 0x7b3c410000

def stack(message, frames):
    lines = ['Unhandled exception:', message,
             'Warning: This VM has been configured to produce stack traces that violate the Dart standard.',
             '*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***',
             'pid: 23001, tid: 23044, name 1.ui', 'os: android arch: arm64 comp: yes sim: no', f"build_id: '{build_id}'",
             f'isolate_dso_base: {dso:x}, vm_dso_base: {dso:x}', f'isolate_instructions: {dso + isolate:x}, vm_instructions: {dso + isolate:x}']
    for index, address in enumerate(frames):
        if address is None:
            lines.append('<asynchronous suspension>')
        else:
            lines.append(f'    #{index:02} abs {dso + address:016x} virt {address:016x} _kDartIsolateSnapshotInstructions+0x{address - isolate:x}')
    return '\n'.join(lines) + '\n'

stories = {
    'recording': ("Bad state: No element", [code.after_call('Track_distanceTo', 'ThrowStub'), code.after_call('TrackRecorder_addPoint', 'Track_distanceTo'), None,
                                            code.after_call('TrackRecorder_start_closure', 'TrackRecorder_addPoint')]),
    'offline-map': ("type 'Null' is not a subtype of type 'xT' in type cast", [code.after_call('OfflineMap_tileAt', 'ThrowStub'), code.after_call('MapPage_build', 'OfflineMap_tileAt')]),
}
if version == '1.7.0':
    stories['share'] = ("type 'kQ' is not a subtype of type 'List<xT>' in type cast", [code.after_call('ShareSheet_export', 'ThrowStub'), code.after_call('SharePage_onTap_closure', 'ShareSheet_export')])
for name, (message, frames) in stories.items():
    open(f'{folder}/crashes/{name}.txt', 'w').write(stack(message, frames))
json.dump(['Waypoint', 'aB', 'MapTile', 'xT', 'TrackArchive', 'kQ', 'main', 'main'], open(f'{folder}/obfuscation-map.json', 'w'))

"""Writes the crash reports (.ips) of one build of the app, with the addresses that its code really has."""
import json
import os
import re
import sys

sys.path.insert(0, os.path.join(os.path.dirname(os.path.abspath(__file__)), '..'))
from machine_code import Code, run

binary, version, build, folder = sys.argv[1:]
code = Code(binary)
uuid = re.search(r'uuid ([0-9A-F-]{36})', run('llvm-objdump-19', '--macho', '--private-headers', binary))[1].lower()
text = 0x100000000
base = 0x104a3c000
images = [
    {'source': 'P', 'arch': 'arm64', 'base': base, 'size': 65536, 'uuid': uuid, 'name': 'Guide',
     'path': '/private/var/containers/Bundle/Application/5D0C7B1E-0000-4000-8000-000000000002/Guide.app/Guide'},
    {'source': 'P', 'arch': 'arm64e', 'base': 0x18f2b4000, 'size': 25000000, 'uuid': '2f1c9a40-7d3e-3b55-9c21-88a0f6b1d3e7', 'name': 'UIKitCore',
     'path': '/System/Library/PrivateFrameworks/UIKitCore.framework/UIKitCore'},
]
own = lambda address: {'imageOffset': address - text, 'imageIndex': 0}
drawing = [
    {'imageOffset': 0x1b2f60, 'symbol': '-[UIView(CALayerDelegate) drawLayer:inContext:]', 'symbolLocation': 432, 'imageIndex': 1},
    {'imageOffset': 0x0a11c4, 'symbol': '-[UIApplication _run]', 'symbolLocation': 840, 'imageIndex': 1},
]
events = [{'imageOffset': 0x0a11c4, 'symbol': '-[UIApplication _run]', 'symbolLocation': 840, 'imageIndex': 1}]
access = {'codes': '0x1, 0x0', 'type': 'EXC_BAD_ACCESS', 'signal': 'SIGSEGV', 'subtype': 'KERN_INVALID_ADDRESS at 0x0000000000000000'}
trap = {'codes': '0x1, 0x0', 'type': 'EXC_BREAKPOINT', 'signal': 'SIGTRAP'}
stories = {
    'nest-map': (access, [own(code.at('-[NestBoxMap drawTile:]', 'ldr')), own(code.after_call('-[NestBoxMap drawRect:through:]', 'objc_msgSend'))] + drawing),
    'song': (trap, [own(code.at('Identifier::loudest', 'brk')), own(code.after_call('Java_com_larkfield_guide_sound_Listener_identify', 'loudest')),
                    own(code.after_call('-[NestBoxMap listenTo:length:]', 'identify'))] + events),
}
if version == '3.2.0':
    stories['sighting-upload'] = (trap, [own(code.at('-[SightingUpload retry:]', 'brk')), own(code.after_call('-[SightingUpload finishWith:]', 'objc_msgSend'))] + events)
for name, (exception, frames) in stories.items():
    header = {'app_name': 'Guide', 'timestamp': '2026-01-01 10:11:14.00 +0000', 'app_version': version, 'slice_uuid': uuid, 'build_version': build, 'platform': 2,
              'bundleID': 'com.larkfield.guide', 'bug_type': '309', 'os_version': 'iPhone OS 17.5.1 (21F90)', 'name': 'Guide'}
    body = {'version': 2, 'modelCode': 'iPhone14,2', 'procName': 'Guide', 'procPath': images[0]['path'], 'captureTime': '2026-01-01 10:11:12.1234 +0000',
            'osVersion': {'train': 'iPhone OS 17.5.1', 'build': '21F90', 'releaseType': 'User'}, 'cpuType': 'ARM-64', 'bug_type': '309',
            'bundleInfo': {'CFBundleShortVersionString': version, 'CFBundleVersion': build, 'CFBundleIdentifier': 'com.larkfield.guide'},
            'exception': exception, 'faultingThread': 0,
            'threads': [{'id': 4211, 'queue': 'com.apple.main-thread', 'triggered': True, 'frames': frames}], 'usedImages': images}
    with open(f'{folder}/{name}.ips', 'w') as file:
        file.write(json.dumps(header) + '\n' + json.dumps(body, indent=1) + '\n')

"""Asks the compiler suite's symbolizer about the code of every binary in built/, and keeps its answers in truth/.

A line is: first address, last address asked (both hexadecimal), then the frames, innermost first, each as
function, file, line, column, separated by tabs. Neighbouring addresses with one answer share a line.
"""
import gzip
import json
import os
import subprocess

def code(path, arch):
    only = ['--arch=' + arch] if arch else []
    text = subprocess.run(['llvm-objdump-19', '--section-headers', *only, path], capture_output=True, text=True).stdout
    rows = (line.split() for line in text.splitlines())
    return [(int(row[3], 16), int(row[2], 16)) for row in rows if len(row) >= 5 and row[-1] == 'TEXT' and row[1] not in ('.plt', '__stubs', '.init', '.fini')]

def main():
    for name in sorted(os.listdir('built')):
        if name.endswith('.dwp'):
            continue
        path = 'built/' + name
        for arch in (['arm64', 'x86_64'] if 'universal' in name else [None]):
            addresses = [a for start, size in code(path, arch) for a in range(start, start + size, 1 if 'x86' in name else 2)]
            answer = subprocess.run(['llvm-symbolizer-19', '--obj=' + path + (':' + arch if arch else ''), '--no-demangle', '--output-style=JSON', '--inlines'],
                input='\n'.join(hex(a) for a in addresses), capture_output=True, text=True).stdout
            rows = []
            for address, line in zip(addresses, answer.splitlines()):
                frames = json.loads(line)['Symbol']
                text = '\t'.join(str(f[key]) for f in frames for key in ('FunctionName', 'FileName', 'Line', 'Column'))
                if rows and rows[-1][2] == text:
                    rows[-1][1] = address
                else:
                    rows.append([address, address, text])
            body = ''.join(f'{a:x}\t{b:x}\t{text}\n' for a, b, text in rows)
            out = f'truth/{name}{"." + arch if arch else ""}.tsv.gz'
            with open(out, 'wb') as raw, gzip.GzipFile('', 'wb', 9, raw, 0) as packed:
                packed.write(body.encode())
            print(name, arch or '', len(addresses), 'addresses,', len(rows), 'answers')

main()

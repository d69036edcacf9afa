"""Writes swift.tsv.gz: Swift names of built frameworks with what their compiler says about them.

Give the unpacked folder of the npm packages @nativescript/canvas 2.1.18 and @nativescript/core 9.1.2 (both MIT), whose
frameworks come with debug information and an interface dump. Needs llvm-nm-19 and llvm-dwarfdump-19. Each line is
  symbol  <mangled>                                   a name of the symbol table, code or data
  debug   <mangled>  <name in the debug information>
  api     <mangled>  <static or empty>  <path and printed name>  <printed types: result, then parameters>
"""
import gzip, json, os, re, subprocess, sys

lines = set()
for root, _, files in os.walk(sys.argv[1]):
    for name in files:
        path = os.path.join(root, name)
        if '/DWARF/' in path:
            for line in subprocess.run(['llvm-nm-19', path], capture_output=True, text=True).stdout.splitlines():
                symbol = re.search(r' ([a-zA-Z]) (_\$[sS].*)$', line)
                if symbol:
                    lines.add(f"symbol\t{symbol[2]}\t{'code' if symbol[1] in 'tT' else 'data'}")
            dump = subprocess.run(['llvm-dwarfdump-19', '--debug-info', path], capture_output=True, text=True).stdout
            for unit in re.split(r'\n\s*\n', dump):
                if 'DW_TAG_subprogram' not in unit:
                    continue
                linkage = re.search(r'DW_AT_linkage_name\s+\("(\$[sS][^"]*)"\)', unit)
                plain = re.search(r'DW_AT_name\s+\("([^"]*)"\)', unit)
                if linkage and plain:
                    lines.add(f'debug\t{linkage[1]}\t{plain[1]}')
        if name.endswith('.abi.json'):
            def walk(one, path):
                if not isinstance(one, dict):
                    return
                mangled = one.get('mangledName')
                if mangled and one.get('kind') in ('Function', 'Var', 'TypeDecl', 'Constructor'):
                    types = [child.get('printedName', '') for child in one.get('children', []) if child.get('kind', '').startswith('Type') and child.get('kind') != 'TypeDecl']
                    lines.add('\t'.join(['api', mangled, 'static' if one.get('static') else '', '.'.join(path + [one['printedName']]), '|'.join(types if one['kind'] != 'TypeDecl' else [])]))
                below = path + [one['name']] if one.get('kind') == 'TypeDecl' else path
                if one.get('kind') == 'TypeDecl' and one.get('isExternal'):
                    return
                for child in one.get('children', []):
                    walk(child, below)
            walk(json.load(open(path))['ABIRoot'], [])

out = os.path.join(os.path.dirname(os.path.abspath(__file__)), 'swift.tsv.gz')
with open(out, 'wb') as raw, gzip.GzipFile(fileobj=raw, mode='wb', mtime=0, filename='') as packed:
    packed.write(('\n'.join(sorted(lines)) + '\n').encode())

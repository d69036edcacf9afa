"""Places in the machine code of the demo's binaries, for the crash texts that are written of them."""
import re
import subprocess

def run(*command):
    return subprocess.run(command, capture_output=True, text=True, check=True).stdout

class Code:
    """The instructions of a binary by function."""
    def __init__(self, path):
        self.functions = {}
        name = None
        for line in run('llvm-objdump-19', '-d', '--demangle', '--no-show-raw-insn', path).splitlines():
            if head := re.match(r'[0-9a-f]+ <(.*)>:$', line):
                name = head[1]
                self.functions[name] = []
            elif name and (instruction := re.match(r'\s*([0-9a-f]+):\s+(\S+)\s*(.*)$', line)):
                self.functions[name].append((int(instruction[1], 16), instruction[2], instruction[3]))

    def at(self, function, operation, operand=''):
        """Address of the first such instruction in the function whose name holds the text."""
        body = next(body for name, body in self.functions.items() if function in name and '@plt' not in name)
        return next(address for address, op, rest in body if op == operation and operand in rest)

    def after_call(self, function, callee):
        """Address behind the first call of the callee, which a stack shows as its return address."""
        return self.at(function, 'bl', callee) + 4

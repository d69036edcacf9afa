#!/bin/bash
# Makes the samples anew: real crashes of collector/native/testing/crasher.cpp on x86-64, and by user-mode emulation on ARM64 and ARM.
# Needs g++, g++-aarch64-linux-gnu, g++-arm-linux-gnueabihf and qemu-user of Debian 12. The debug file is that of the ARM64 program.
set -e
here=$(cd "$(dirname "$0")" && pwd)
native=$here/../../../collector/native
work=/opt/larkfield
rm -rf "$work" && mkdir -p "$work/src" && cp "$native"/ember_native.* "$native/testing/crasher.cpp" "$work/src/"
cd "$work"

build() { # compiler prefix, name, options
  "${1}gcc" -std=c11 -O1 -g $3 -c src/ember_native.c -o ember_native.o
  "${1}g++" -O1 -g $3 src/crasher.cpp ember_native.o -o "$2" -lpthread -Wl,--build-id
}

crash() { # runner, program, how, sample
  rm -rf files
  $1 "./$2" "$work/files" "$3" > /dev/null 2>&1 || true
  cp files/*.ember "$here/$4.crash"
}

build '' crasher ''
crash '' crasher null null-x86_64
crash '' crasher throw-c throw-through-c-x86_64
crash '' crasher handler in-handler-x86_64
build aarch64-linux-gnu- crasher-arm64 '-fno-omit-frame-pointer'
crash 'qemu-aarch64 -L /usr/aarch64-linux-gnu' crasher-arm64 thread thread-arm64
crash 'qemu-aarch64 -L /usr/aarch64-linux-gnu' crasher-arm64 nowhere nowhere-arm64
crash 'qemu-aarch64 -L /usr/aarch64-linux-gnu' crasher-arm64 overflow overflow-arm64
aarch64-linux-gnu-objcopy --only-keep-debug --compress-debug-sections crasher-arm64 "$here/crasher-arm64.debug"
build arm-linux-gnueabihf- crasher-arm '-funwind-tables -fno-omit-frame-pointer'
crash 'qemu-arm -L /usr/arm-linux-gnueabihf' crasher-arm null null-arm
# One that was killed while it wrote: cut off within a line, with zeros behind.
head -c 900 "$here/null-x86_64.crash" > "$here/cut-off-x86_64.crash"
head -c 3000 /dev/zero >> "$here/cut-off-x86_64.crash"

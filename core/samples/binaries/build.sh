#!/bin/sh
# Builds the binaries of this folder from sources/, and records in truth/ what the compiler suite's own symbolizer says
# of every address of their code. Needs clang-19, lld-19, llvm-19, g++ for x86_64, aarch64 and armhf, dwz and rustc.
set -eu
cd "$(dirname "$0")"
rm -rf built truth
mkdir -p built truth
cd sources

map="-ffile-prefix-map=$PWD=/larkfield/song"
common="-fPIC -shared -nostdlib -ffreestanding -fno-exceptions -fno-rtti -fno-stack-protector -Wl,--build-id"
files="song.cpp loudness.cpp"

# llvm NAME TARGET FLAGS…: C++ and C parts linked by lld.
llvm() {
  name=$1 target=$2
  shift 2
  clang-19 --target="$target" $map -g "$@" -ffreestanding -fPIC -c notes.c -o notes.o
  clang++-19 --target="$target" -std=c++17 $map -g $common -fuse-ld=lld-19 "$@" $files notes.o -o "../built/$name"
  rm -f notes.o
}
# gnu NAME PREFIX FLAGS…: the same by GCC and GNU ld.
gnu() {
  name=$1 prefix=$2
  shift 2
  "${prefix}gcc" $map -g "$@" -ffreestanding -fPIC -c notes.c -o notes.o
  "${prefix}g++" -std=c++17 $map -g $common "$@" $files notes.o -o "../built/$name"
  rm -f notes.o
}

x86=x86_64-linux-gnu
arm64=aarch64-linux-android29
armv7=armv7a-linux-androideabi21
for level in O0 O2 O3; do
  llvm "clang-x86_64-$level.so" $x86 "-$level" -gdwarf-5
  llvm "clang-arm64-$level.so" $arm64 "-$level" -gdwarf-4
  llvm "clang-armv7-$level.so" $armv7 "-$level" -gdwarf-5 -marm
  gnu "gcc-x86_64-$level.so" "" "-$level" -gdwarf-5
  gnu "gcc-arm64-$level.so" aarch64-linux-gnu- "-$level" -gdwarf-4
  gnu "gcc-armv7-$level.so" arm-linux-gnueabihf- "-$level" -gdwarf-5 -mthumb
done
llvm clang-arm64-lto.so $arm64 -O2 -gdwarf-5 -flto
llvm clang-armv7-thumb.so $armv7 -O2 -gdwarf-4 -mthumb
llvm clang-x86_64-dwarf2.so $x86 -O2 -gdwarf-2
llvm clang-x86_64-dwarf3.so $x86 -O2 -gdwarf-3
llvm clang-x86_64-dwarf64.so $x86 -O2 -gdwarf-5 -gdwarf64
llvm clang-x86_64-lines-only.so $x86 -O2 -gline-tables-only
llvm clang-arm64-types.so $arm64 -O2 -gdwarf-5 -fdebug-types-section
llvm clang-x86_64-folded.so $x86 -O2 -gdwarf-5 -ffunction-sections -Wl,--icf=all -Wl,--gc-sections
gnu gcc-x86_64-lto.so "" -O2 -gdwarf-5 -flto
gnu gcc-x86_64-types4.so "" -O2 -gdwarf-4 -fdebug-types-section
gnu gcc-x86_64-cold.so "" -O2 -gdwarf-5 -freorder-blocks-and-partition
for way in zlib zstd; do
  llvm-objcopy-19 --compress-debug-sections=$way ../built/clang-arm64-O2.so "../built/clang-arm64-$way.so"
done
objcopy --compress-debug-sections=zlib-gnu ../built/gcc-x86_64-O2.so ../built/gcc-x86_64-zdebug.so

# A stripped library, and the debug file that was kept apart.
objcopy --only-keep-debug ../built/gcc-x86_64-O2.so ../built/gcc-x86_64-apart.so.debug
objcopy --strip-debug --strip-unneeded --add-gnu-debuglink=../built/gcc-x86_64-apart.so.debug ../built/gcc-x86_64-O2.so ../built/gcc-x86_64-stripped.so

# Only a symbol table, and only the packed mini table.
llvm-strip-19 --strip-debug ../built/clang-arm64-O2.so -o ../built/clang-arm64-symbols-only.so
nm -S --defined-only ../built/gcc-x86_64-O2.so >/dev/null
cp ../built/gcc-x86_64-O2.so mini.full
objcopy -S --keep-symbols=/dev/null mini.full mini.none 2>/dev/null || true
objcopy --only-keep-debug mini.full mini.debug
nm -D mini.full --format=posix --defined-only | awk '{print $1}' | sort >mini.dynamic
nm mini.full --format=posix --defined-only | awk '$2 == "T" || $2 == "t" || $2 == "W" {print $1}' | sort >mini.functions
comm -13 mini.dynamic mini.functions >mini.keep
objcopy -S --remove-section .gdb_index --remove-section .comment --keep-symbols=mini.keep mini.debug mini.table
xz -k -f mini.table
strip -o ../built/gcc-x86_64-mini.so mini.full
objcopy --add-section .gnu_debugdata=mini.table.xz ../built/gcc-x86_64-mini.so
rm -f mini.*

# Split debug information: the image keeps the addresses and lines, the package the functions.
for version in 4 5; do
  for file in song loudness; do
    clang++-19 --target=$x86 -std=c++17 $map -fdebug-compilation-dir=. -g -gdwarf-$version -gsplit-dwarf -O2 -fPIC -nostdlib -ffreestanding \
      -fno-exceptions -fno-rtti -c $file.cpp -o $file.o
  done
  clang-19 --target=$x86 $map -fdebug-compilation-dir=. -g -gdwarf-$version -gsplit-dwarf -O2 -fPIC -ffreestanding -c notes.c -o notes.o
  clang++-19 --target=$x86 -fuse-ld=lld-19 -nostdlib -shared -Wl,--build-id song.o loudness.o notes.o -o ../built/clang-split$version.so
  llvm-dwp-19 song.dwo loudness.dwo notes.dwo -o ../built/clang-split$version.so.dwp
  rm -f song.o loudness.o notes.o song.dwo loudness.dwo notes.dwo
done

# Big-endian and 32-bit, which phones no longer are, but the format is.
clang++-19 --target=powerpc64-linux-gnu -std=c++17 $map -g -gdwarf-5 -O2 -fPIC -shared -nostdlib -ffreestanding -fno-exceptions -fno-rtti \
  -Wl,--build-id -fuse-ld=lld-19 $files notes.c -x none -o ../built/clang-ppc64-O2.so 2>/dev/null

rustc --edition 2021 --remap-path-prefix "$PWD=/larkfield/song" -C opt-level=2 -C debuginfo=2 -C panic=abort \
  -C link-arg=-nostdlib -C link-arg=-Wl,--build-id nest.rs -o ../built/rust-x86_64-O2.so

# Apple: two slices, linked, their debug information gathered, and one universal file of both.
for arch in arm64 x86_64; do
  os=ios15.0
  [ $arch = x86_64 ] && os=ios15.0-simulator
  for file in song loudness; do
    clang++-19 -target $arch-apple-$os -std=c++17 $map -g -O2 -ffreestanding -fno-exceptions -fno-rtti -c $file.cpp -o $file.o
  done
  clang-19 -target $arch-apple-$os $map -g -O2 -ffreestanding -c notes.c -o notes.o
  platform=ios
  [ $arch = x86_64 ] && platform=ios-simulator
  ld64.lld-19 -arch $arch -platform_version $platform 15.0 15.0 -dylib -undefined dynamic_lookup song.o loudness.o notes.o \
    -install_name @rpath/LarkSong -o LarkSong
  dsymutil-19 LarkSong -o LarkSong-$arch.dSYM
  cp LarkSong-$arch.dSYM/Contents/Resources/DWARF/LarkSong ../built/apple-$arch.dwarf
  cp LarkSong ../built/apple-$arch.dylib
  rm -rf song.o loudness.o notes.o LarkSong LarkSong-$arch.dSYM
done
llvm-lipo-19 -create ../built/apple-arm64.dwarf ../built/apple-x86_64.dwarf -output ../built/apple-universal.dwarf

cd ..
python3 record-truth.py

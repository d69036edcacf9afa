#!/bin/sh
# Records mangled names of libraries that stand on a Debian machine with what the compilers' own tools make of them:
# name, tab, readable name. Every so many-th name of the whole list is kept, so that all kinds of names are among them.
# Needs clang-19, llvm-19 with its libraries, binutils and Rust.
set -eu
cd "$(dirname "$0")"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
names() {
  for file in "$@"; do
    nm --no-demangle -D "$file" 2>/dev/null | awk '{print $NF}'
    nm --no-demangle "$file" 2>/dev/null | awk '{print $NF}'
  done | sed 's/@.*//'
}
keep() { awk -v every="$1" 'NR % every == 0'; }

names /usr/lib/llvm-19/lib/*.so* /usr/lib/x86_64-linux-gnu/*.so* /usr/lib/llvm-19/lib/*.a /usr/lib/gcc/x86_64-linux-gnu/12/*.a |
  grep '^_Z' | grep -v '17h[0-9a-f]\{16\}E' | sort -u >"$work/cpp"
# The symbolizer's suite does not know the names of transactional memory; GNU's tool does.
grep -v '^_ZGT[tn]' "$work/cpp" | keep 30 >"$work/cpp.kept"
llvm-cxxfilt-19 <"$work/cpp.kept" | paste "$work/cpp.kept" - | gzip -9n >cpp.tsv.gz

# Forms that no library of the machine has: compiled here, and written by hand after the grammar of the ABI, right and wrong.
clang++-19 -std=c++23 -w -c -O0 -o "$work/expressions.o" many-expressions.cpp
{ names "$work/expressions.o" | grep '^_Z' | sort -u; cat many-forms.names; } >"$work/forms"
llvm-cxxfilt-19 <"$work/forms" | paste "$work/forms" - | gzip -9n >cpp-forms.tsv.gz

rustc --edition 2021 -C symbol-mangling-version=v0 -g -o "$work/v0.program" many-names.rs
RUSTC_BOOTSTRAP=1 rustc --edition 2021 -Z unstable-options -C symbol-mangling-version=legacy -g -o "$work/legacy.program" many-names.rs
names "$work/v0.program" "$work/legacy.program" "$HOME"/.rustup/toolchains/stable-*/lib/librustc_driver*.so | grep -E '^(_R|_ZN.*17h[0-9a-f]{16}E)' | sort -u >"$work/rust"
# The symbolizer's suite writes letters outside of ASCII by their numbers, which the compiler does not.
sed -i '/Kc[0-9a-f]*[89a-f][0-9a-f]_/d' "$work/rust"
{ grep '^_R' "$work/rust" | keep 30; names "$work/v0.program" | grep '^_R' | grep -v 'Kc[0-9a-f]*[89a-f][0-9a-f]_' | sort -u | keep 2; } | sort -u >"$work/v0"
# GNU's tool leaves letters outside of ASCII escaped, which the compiler does not.
grep '^_ZN' "$work/rust" | grep -v '\$uf6\$' >"$work/legacy"
# The compiler leaves the hash out of its own stack traces; the tool prints it.
{ llvm-cxxfilt-19 <"$work/v0" | paste "$work/v0" -; c++filt -s rust <"$work/legacy" | sed 's/::h[0-9a-f]\{16\}$//' | paste "$work/legacy" -; } | gzip -9n >rust.tsv.gz

# Values in names: the program itself prints the address of each function beside the name that its stack trace tells.
RUSTC_BOOTSTRAP=1 rustc --edition 2021 -C symbol-mangling-version=v0 -g -o "$work/constants.program" many-constants.rs
nm --numeric-sort "$work/constants.program" | awk '$3 ~ /^_R/ {print $1, $3}' >"$work/symbols"
"$work/constants.program" | awk '
  NR == FNR { start[NR] = $1; name[NR] = $2; count = NR; next }
  { split($0, told, "\t"); at = sprintf("%16s", told[1]); gsub(" ", "0", at)
    low = 1; high = count
    while (low < high) { middle = int((low + high + 1) / 2); if (start[middle] <= at) low = middle; else high = middle - 1 }
    print name[low] "\t" told[2] }' "$work/symbols" - | gzip -9n >rust-constants.tsv.gz

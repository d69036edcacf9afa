import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demangle, demangleFunction } from './demangle.ts';

/** Real names with what the compilers' own tools make of them; `record.sh` there made the lists. */
const recorded = (file: string): (readonly [name: string, readable: string])[] =>
  gunzipSync(readFileSync(new URL(`../../../samples/names/${file}.tsv.gz`, import.meta.url)))
    .toString()
    .trimEnd()
    .split('\n')
    .map((line) => line.split('\t') as [string, string]);

describe('names of built libraries', () => {
  it.each([
    ['cpp', 0.999],
    ['rust', 1],
  ] as const)("in %s agree with the compilers' own tools in a share of at least %d", (file, share) => {
    const names = recorded(file);
    const wrong = names.filter(([name, readable]) => demangle(name) !== readable);
    expect(names.length).toBeGreaterThan(3_000);
    expect(1 - wrong.length / names.length, wrong.slice(0, 3).join('\n')).toBeGreaterThanOrEqual(share);
  });

  /** Where the compiler's own tool knows a form not, or prints a parameter's name for what it stands for. */
  const better: Readonly<Record<string, string>> = {
    ____ZN4lark4singEv_block_invoke: 'invocation function for block in lark::sing()',
    _ZGTtN4lark4singEv: 'transaction clone for lark::sing()',
    _Z1fDF64x: 'f(_Float64)',
    _Z4halfDF16_DF16b: 'half(_Float16, std::bfloat16_t)',
    _Z7value155HoldsIJLDs120EEE: 'value15(Holds<(char16_t)120>)',
    _Z7value165HoldsIJLDi121EEE: 'value16(Holds<(char32_t)121>)',
    _Z7value175HoldsIJLDu122EEE: 'value17(Holds<(char8_t)122>)',
    _Z8demands1I4NestQ6CountsIT_EEvS1_: 'void demands1<Nest>(Nest)',
    _Z8demands2I4NestQgtstT_Li4EEvS1_: 'void demands2<Nest>(Nest)',
    _Z8demands8I4NestQrqTNT_3BoxEQLb1EEEvS1_: 'void demands8<Nest>(Nest)',
    _Z8demands9I4NestQrQT_i_XcldtfL0p_5countEXdtfL0p_4eggsRSt14convertible_toIiETNS1_3BoxEQgtstS1_Li1EEEvS1_: 'void demands9<Nest>(Nest)',
    _Z9demands10I4NestQrQT__XpldtfL0p_4eggsLi1ENEEvS1_: 'void demands10<Nest>(Nest)',
    _Z9demands11IJ4NestS0_EQfraa6CountsIT_EEvDpS1_: 'void demands11<Nest, Nest>(Nest, Nest)',
    _ZN5PerchI4NestE3sitEvQ6CountsIT_E: 'Perch<Nest>::sit() requires Counts<Nest>',
    _ZN5PerchI4NestEF5leaveES1_Q6CountsIT_E: 'Perch<Nest>::friend leave(Perch<Nest>) requires Counts<Nest>',
    _ZN5PerchIiE5shareIiQ5AlikeIT_TL0__EEEvS2_: 'void Perch<int>::share<int>(int)',
    _ZZ4usesvENK3$_0clIiLi3E5SoundJicEEEDaRAT0__T_T1_IS2_EDpT2_:
      'auto uses()::$_0::operator()<int, 3, Sound, int, char>(int (&) [3], Sound<int>, int, char) const',
    _ZZ4usesvENK3$_0clIiLi3EN4lark4SongEJEEEDaRAT0__T_T1_IS3_EDpT2_:
      'auto uses()::$_0::operator()<int, 3, lark::Song>(int (&) [3], lark::Song<int>) const',
  };

  it.each(recorded('cpp-forms'))('in %s is %s, or better', (name, readable) => {
    expect(demangle(name)).toBe(better[name] ?? readable);
    if (better[name]) expect(better[name]).not.toBe(readable);
  });

  it.each(recorded('rust-constants'))("in rust-constants, told by the program's own stack trace, are read: %s is %s", (name, readable) =>
    expect(demangle(name)).toBe(readable),
  );

  it.each([
    ['no letter of Unicode', '_RINvC1m6letterKcd800_E'],
    ['beyond Unicode', '_RINvC1m6letterKc110000_E'],
    ['neither true nor false', '_RINvC1m7booleanKb2_E'],
    ['half a byte of text', '_RINvC1m4textKRe616_E'],
    ['no UTF-8', '_RINvC1m4textKRec3_E'],
    ['without digits', '_RINvC1m4byteKh_E'],
    ['without an end', '_RINvC1m5arrayKAh1_h2_E'],
    ['of no known form', '_RINvC1m5rangeKVC1mXE'],
    ['that refers to what comes later', '_RINvC1m4byteKBz_E'],
  ])('with a value that is %s stay as they are', (_, name) => expect(demangle(name)).toBe(name));

  it('with values that no compiler writes yet are read as the format says', () => {
    expect(demangle('_RINvC1m4textKe6869_E')).toBe('m::text::<{*"hi"}>');
    expect(demangle('_RINvC1m4pairKQh7_E')).toBe('m::pair::<{&mut 7}>');
    expect(demangle('_RINvC1m5twicehKhf_KBd_E')).toBe('m::twice::<u8, 15, 15>');
    expect(demangle('_RINvC1m7unknownKpE')).toBe('m::unknown::<_>');
    expect(demangle('_RINvC1m9lifetimesL_DG_INtC1m2FnRL0_hEp6OutputuEL_E')).toBe(
      "m::lifetimes::<'_, dyn for<'a> m::Fn<&'a u8, Output = ()>>",
    );
  });

  it.each([
    ['of a quadruple long double', '_Z1fI5HoldsIJLe3fff8000000000000000000000000000EEEEvv', 'void f<Holds<0x1.8p+0L>>()'],
    [
      'of one below all normal numbers',
      '_Z1fI5HoldsIJLe00000000000000000000000000000001EEEEvv',
      'void f<Holds<0x0.0000000000000000000000000001p-16382L>>()',
    ],
    ['with too few digits', '_Z1fI5HoldsIJLd3ff8EEEEvv', '_Z1fI5HoldsIJLd3ff8EEEEvv'],
    ['with capitals', '_Z1fI5HoldsIJLf3FC00000EEEEvv', '_Z1fI5HoldsIJLf3FC00000EEEEvv'],
  ])('floating literals %s', (_, name, readable) => expect(demangle(name)).toBe(readable));

  it('that cannot be demangled stay as they are', () => {
    for (const name of ['main', '_Z', '_ZN', '_ZN4larkE4', '_R', '_RNvC', 'Java_com_larkfield_Song_note', '-[LKSong play:]', ''])
      expect(demangle(name)).toBe(name);
  });

  it('mutated by a few letters never hang, throw or grow without bounds', () => {
    const names = [...recorded('cpp'), ...recorded('cpp-forms'), ...recorded('rust'), ...recorded('rust-constants')].map(([name]) => name);
    const letters = fc.constantFrom('_', 'N', 'E', 'S', 'T', 'I', 'B', 'L', 'Z', 'R', '0', '9', 'J', 'D', 'p', 'X', '$', '.');
    const edits = fc.array(fc.tuple(fc.nat(), letters), { minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(fc.constantFrom(...names), edits, (name, changes) => {
        const mutated = [...name];
        for (const [place, letter] of changes) mutated[place % mutated.length] = letter;
        expect(demangle(mutated.join('')).length).toBeLessThan(80_000);
      }),
      { numRuns: 5_000 },
    );
  });

  it('that double themselves again and again are given up', () => {
    const doubling = `_Z1fI${'S_S_'.repeat(3)}E${'PF'.repeat(5_000)}v`;
    expect(demangle(doubling)).toBe(doubling);
    const pairs = Array.from(
      { length: 40 },
      (_, at) => `St4pairI${at === 0 ? 'ii' : `S${(at - 1).toString(36).toUpperCase()}_S${(at - 1).toString(36).toUpperCase()}_`}E`,
    );
    expect(demangle(`_Z1f${pairs.join('')}`).length).toBeLessThan(80_000);
  });
});

describe('names of functions', () => {
  it.each([
    ['_ZN12_GLOBAL__N_17highestERKN4lark6WindowIfEE.isra.0', '(anonymous namespace)::highest(lark::Window<float> const&)'],
    ['_ZN4lark8Detector5countEl.cold', 'lark::Detector::count(long)'],
    ['remember.constprop.0', 'remember'],
    ['_RNvNtCs8mHG15PcFrU_4nest5boxes8heaviest.llvm.150635', 'nest::boxes::heaviest'],
    ['_ZN4nest5boxes8heaviest17h0123456789abcdefE', 'nest::boxes::heaviest'],
    ['_ZN10many_names13gr$uf6$$udf$e9l$ue4$nge17h507f9153d6c88b57E', 'many_names::größe::länge'],
  ])('%s is %s', (name, readable) => expect(demangleFunction(name)).toBe(readable));
});

describe('names that tools cut, number or key', () => {
  it.each([
    ['_ZL3foo_2', 'foo'],
    ['_ZZL3foo_2vE4var1_0', 'foo()::var1'],
    ['_ZZN3foo3barEvE1x__12_', 'foo::bar()::x'],
    ['_GLOBAL__I__Z2fnv', 'global constructors keyed to fn()'],
    ['_GLOBAL__D_nest', 'global destructors keyed to nest'],
    ['_Z1fIIPiPfPdEEvDpT_', 'void f<int*, float*, double*>(int*, float*, double*)'],
    ['ZN3foo3barEv', 'foo::bar()'],
    ['ZNK3foo3barEv', 'foo::bar() const'],
    ['ZN4core9panicking5panicE', 'core::panicking::panic'],
    ['_ZN4core9panicking5panicE', 'core::panicking::panic'],
    ['_ZN58_$LT$alloc..string..String$u20$as$u20$core..fmt..Debug$GT$3fmtE', '<alloc::string::String as core::fmt::Debug>::fmt'],
    [
      'ZN58_$LT$alloc..string..String$u20$as$u20$core..fmt..Debug$GT$3fmt17h0123456789abcdefE',
      '<alloc::string::String as core::fmt::Debug>::fmt',
    ],
    ['RNvCs1234_7mycrate3foo', 'mycrate::foo'],
    ['$sSl5GuideSTRzrlE5perchyyF', 'Collection<>.perch()'],
    ['ZNSt', 'ZNSt'],
    ['GLOBAL', 'GLOBAL'],
  ])('%s is %s', (mangled, written) => expect(demangleFunction(mangled)).toBe(written));
});

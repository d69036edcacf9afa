import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { demangleFunction } from '../demangle.ts';
import { demangleSwift } from './demangle-swift.ts';

// Names of the forms in the compiler's own list of test names (test/Demangle/Inputs/manglings.txt of Swift 6.0), with other modules.

const today: readonly (readonly [mangled: string, full: string])[] = [
  [
    '$s13nest_counting3fooyS2f_S2ftFTJfUSSpSr',
    'forward-mode derivative of nest_counting.foo(Swift.Float, Swift.Float, Swift.Float) -> Swift.Float with respect to parameters {1, 2} and results {0}',
  ],
  [
    '$s13nest_counting3fooyS2f_xq_t16_Differentiation14DifferentiableR_r0_lFAcDRzAcDR_r0_lTJpUSSpSrTj',
    'dispatch thunk of pullback of nest_counting.foo<A, B where B: _Differentiation.Differentiable>(Swift.Float, A, B) -> Swift.Float with respect to parameters {1, 2} and results {0} with <A, B where A: _Differentiation.Differentiable, B: _Differentiation.Differentiable>',
  ],
  [
    '$s13nest_counting3fooyS2f_S2ftFWJrSpSr',
    'reverse-mode differentiability witness for nest_counting.foo(Swift.Float, Swift.Float, Swift.Float) -> Swift.Float with respect to parameters {0} and results {0}',
  ],
  [
    '$sS2f8mangling3FooV13TangentVectorVIegydd_SfAESfIegydd_TJOp',
    'autodiff self-reordering reabstraction thunk for pullback from @escaping @callee_guaranteed (@unowned Swift.Float) -> (@unowned Swift.Float, @unowned mangling.Foo.TangentVector) to @escaping @callee_guaranteed (@unowned Swift.Float) -> (@unowned mangling.Foo.TangentVector, @unowned Swift.Float)',
  ],
  [
    '$s13TangentVector16_Differentiation14DifferentiablePQzAaDQy_SdAFIegnnnr_TJSdSSSpSrSUSP',
    'autodiff subset parameters thunk for differential from @escaping @callee_guaranteed (@in_guaranteed A._Differentiation.Differentiable.TangentVector, @in_guaranteed B._Differentiation.Differentiable.TangentVector, @in_guaranteed Swift.Double) -> (@out B._Differentiation.Differentiable.TangentVector) with respect to parameters {0, 1, 2} and results {0} to parameters {0, 2}',
  ],
  [
    '$s9HedgeBird13nestStringify1a1bySi_SitF9stringifyfMf1_',
    'freestanding macro expansion #3 of stringify in HedgeBird.nestStringify(a: Swift.Int, b: Swift.Int) -> ()',
  ],
  [
    '$s9HedgeBird016testFreestandingA9ExpansionyyF4Foo3L_V23bitwidthNumberedStructsfMf_6methodfMu0_',
    'unique name #2 of method in freestanding macro expansion #1 of bitwidthNumberedStructs in Foo3 #1 in HedgeBird.testFreestandingHedgeExpansion() -> ()',
  ],
  [
    '@__swiftmacro_18hedge_ringed_birds1SV1f20addCompletionHandlerfMp_',
    'peer macro @addCompletionHandler expansion #1 of f in hedge_ringed_birds.S',
  ],
  [
    '$s14birds_in_hedge14myColorLiteral3red5green4blue5alphaAA0E0VSf_S3ftcfm',
    'birds_in_hedge.myColorLiteral(red: Swift.Float, green: Swift.Float, blue: Swift.Float, alpha: Swift.Float) -> birds_in_hedge.Color',
  ],
  [
    '$s9HedgeBird0023macro_expandswift_elFCffMX436_4_23bitwidthNumberedStructsfMf_',
    'freestanding macro expansion #1 of bitwidthNumberedStructs in module HedgeBird file macro_expand.swift line 437 column 5',
  ],
  [
    '_$S4main5inneryys5Int32Vz_yADctF25closure_with_box_argumentxz_Bi32__lXXTf1nc_n',
    'function signature specialization <Arg[1] = [Closure Propagated : closure_with_box_argument, Argument Types : [<A> { var A } <Builtin.Int32>]> of main.inner(inout Swift.Int32, (Swift.Int32) -> ()) -> ()',
  ],
  ['_T03nix6testitSaySiGyFTv_r', 'outlined read-only object #0 of nix.testit() -> [Swift.Int]'],
  [
    '$s18hedges_return_bird3fooQryFQOHo',
    'opaque type descriptor runtime record for <<opaque return type of hedges_return_bird.foo() -> some>>',
  ],
  ['$S1t1PP10AssocType2_AA1QTn', 'associated conformance descriptor for t.P.AssocType2: t.Q'],
  ['$s4Test6testityyxlFAA8MystructV_TB5', 'generic specialization <Test.Mystruct> of Test.testit<A>(A) -> ()'],
  [
    '_T03foo4_123ABTf3psbpsb_n',
    "function signature specialization <Arg[0] = [Constant Propagated String : u8'123'], Arg[1] = [Constant Propagated String : u8'123']> of foo",
  ],
  [
    '$s1t1fyyFSiAA3StrVcs7KeyPathCyADSiGcfu_SiADcfu0_33_556644b740b1b333fecb81e55a7cce98ADSiTf3npk_n',
    'function signature specialization <Arg[1] = [Constant Propagated KeyPath : _556644b740b1b333fecb81e55a7cce98<t.Str,Swift.Int>]> of implicit closure #2 (t.Str) -> Swift.Int in implicit closure #1 (Swift.KeyPath<t.Str, Swift.Int>) -> (t.Str) -> Swift.Int in t.f() -> ()',
  ],
  ['$s4diff1hyyS2iYjrXEF', 'diff.h(@differentiable(reverse) (Swift.Int) -> Swift.Int) -> ()'],
  [
    '$sS5fIertyyywddw_D',
    '@escaping @differentiable(reverse) @convention(thin) (@unowned Swift.Float, @unowned Swift.Float, @unowned @noDerivative Swift.Float) -> (@unowned Swift.Float, @unowned @noDerivative Swift.Float)',
  ],
  [
    '$s4null16NonSendableKlassCIegHo_ACs5Error_pIegHTrzo_TR',
    'reabstraction thunk helper from @escaping @callee_guaranteed @async () -> (@owned null.NonSendableKlass) to @escaping @callee_guaranteed @async () -> sending (@out null.NonSendableKlass, @error @owned Swift.Error)',
  ],
  ['$S2t21QP22ProtocolTypeAliasThingayAA4BlahV5SomeQa_GSgD', 't2.Blah.SomeQ as t2.Q.ProtocolTypeAliasThing?'],
  [
    '$s18feathers_inlinable13KeypathStructV8computedSSvpACTKq',
    'key path getter for feathers_inlinable.KeypathStruct.computed : Swift.String : feathers_inlinable.KeypathStruct, serialized',
  ],
  [
    '$s28implicit_rookeries_shelterin7WrapperV8getView1AA10BufferViewVyYLsF',
    'implicit_rookeries_shelterin.Wrapper.getView1(self lifetime dependence: scope) () -> implicit_rookeries_shelterin.BufferView',
  ],
  ['_$sTA.123', 'partial apply forwarder with unmangled suffix ".123"'],
];
const before: readonly (readonly [mangled: string, full: string])[] = [
  ['_TTDFC3foo3bar3basfT3zimCS_3zim_T_', 'dynamic foo.bar.bas(zim: foo.zim) -> ()'],
  ['_TWvdvC3foo3bar3basSi', 'direct field offset for foo.bar.bas : Swift.Int'],
  ['_TWlC3foo3barS0_S_8barrableS_', 'lazy protocol witness table accessor for type foo.bar and conformance foo.bar : foo.barrable in foo'],
  [
    '_TWTC3foo3barS_8barrableS_4fredS_6thomas',
    'associated type witness table accessor for fred : foo.thomas in foo.bar : foo.barrable in foo',
  ],
  ['_TwalC3foo3bar', 'allocateBuffer value witness for foo.bar'],
  [
    '_TTRXFo_dSc_dSb_XFo_iSc_iSb_',
    'reabstraction thunk helper from @callee_owned (@in Swift.UnicodeScalar) -> (@out Swift.Bool) to @callee_owned (@unowned Swift.UnicodeScalar) -> (@unowned Swift.Bool)',
  ],
  [
    '_TPA__TTRXFo_oSSoSS_dSb_XFo_iSSiSS_dSb_',
    'partial apply forwarder for reabstraction thunk helper from @callee_owned (@in Swift.String, @in Swift.String) -> (@unowned Swift.Bool) to @callee_owned (@owned Swift.String, @owned Swift.String) -> (@unowned Swift.Bool)',
  ],
  [
    '_TFF17capture_promotion22test_capture_promotionFT_FT_SiU_FT_Si_promote0',
    'closure #1 () -> Swift.Int in capture_promotion.test_capture_promotion() -> () -> Swift.Int with unmangled suffix "_promote0"',
  ],
  [
    '_TTWC13ring_protocol1CS_1PS_FS1_3foofT_Si',
    'protocol witness for ring_protocol.P.foo() -> Swift.Int in conformance ring_protocol.C : ring_protocol.P in ring_protocol',
  ],
  [
    '_TTSg5SiSis3Foos_Sf___TFSqcfT_GSqx_',
    'generic specialization <Swift.Int with Swift.Int : Swift.Foo in Swift, Swift.Float> of Swift.Optional.init() -> A?',
  ],
  ['_TTSrq5Si___TF4test7genericurFxx', 'generic not re-abstracted specialization <serialized, Swift.Int> of test.generic<A>(A) -> A'],
  [
    '_TTSf1cl35_TFF7ringing6callerFSiT_U_FTSiSi_T_Si___TTSg5Si___TF7ringing12take_closureFFTSiSi_T_T_',
    'function signature specialization <Arg[0] = [Closure Propagated : closure #1 (Swift.Int, Swift.Int) -> () in ringing.caller(Swift.Int) -> (), Argument Types : [Swift.Int]> of generic specialization <Swift.Int> of ringing.take_closure((Swift.Int, Swift.Int) -> ()) -> ()',
  ],
  [
    '_TTSf1cpi0_cpfl0_cpse0v4u123_cpg53globalinit_33_06E7F1D906492AE070936A9B58CBAE1C_token8_cpfr36_TFtest_capture_propagation2_closure___TF7ringing12take_closureFFTSiSi_T_T_',
    "function signature specialization <Arg[0] = [Constant Propagated Integer : 0], Arg[1] = [Constant Propagated Float : 0], Arg[2] = [Constant Propagated String : u8'u123'], Arg[3] = [Constant Propagated Global : globalinit_33_06E7F1D906492AE070936A9B58CBAE1C_token8], Arg[4] = [Constant Propagated Function : _TFtest_capture_propagation2_closure]> of ringing.take_closure((Swift.Int, Swift.Int) -> ()) -> ()",
  ],
  [
    '_TTSf2dgs___TTSf2s_d___TFVs17_LegacyStringCoreCfVs13_StringBufferS_',
    'function signature specialization <Arg[0] = Dead and Owned To Guaranteed and Exploded> of function signature specialization <Arg[0] = Exploded, Arg[1] = Dead> of Swift._LegacyStringCore.init(Swift._StringBuffer) -> Swift._LegacyStringCore',
  ],
  ['_TtuRxlE64_16rFxwx5Mince', '<A where A: _Trivial(64, 16)>(A) -> A.Mince'],
  ['_TtuRxs8RunciblerFxWx5Mince6Quince_', '<A where A: Swift.Runcible>(A) -> A.Mince.Quince'],
  ['_TtPMP_', 'Any.Type'],
  ['_TMps10Comparable', 'protocol descriptor for Swift.Comparable'],
  [
    '_TTRXFo_iT__iT_zoPs5Error__XFo__dT_zoPS___',
    'reabstraction thunk helper from @callee_owned () -> (@unowned (), @error @owned Swift.Error) to @callee_owned (@in ()) -> (@out (), @error @owned Swift.Error)',
  ],
];

describe('what compilers and optimisers make of functions', () => {
  it.each(today)('%s', (mangled, full) => expect(demangleSwift(mangled, 'full')).toBe(full));
});

describe('the same in the mangling of before version 4', () => {
  it.each(before)('%s', (mangled, full) => expect(demangleSwift(mangled, 'full')).toBe(full));

  it('is no name where something else stands behind a type, or behind nothing', () => {
    for (const name of ['_TtC5Guide3MapX', '_TFile', '_TMain', '_TF5Guide3mapFT_T_junk', '_TTSg5Si___X'])
      expect(demangleSwift(name, 'full')).toBeNull();
    expect(demangleFunction('_TFile')).toBe('_TFile');
  });

  it('names functions within functions only so deep, and ends', () => {
    let name = '_TF5Guide3mapFT_T_';
    for (let depth = 0; depth < 200; depth++) name = `_TTSf1cl${name.length}${name}_${'_'}_TF5Guide3mapFT_T_`;
    expect(demangleSwift(name, 'full')).toMatch(/^function signature specialization <Arg\[0\] = \[Closure Propagated : function signature/);
  });
});

it('damaged names end soon, with a name or nothing', () => {
  const names = [...today, ...before].map(([mangled]) => mangled);
  const damaged = fc.tuple(fc.constantFrom(...names), fc.nat(400), fc.string({ maxLength: 4 })).map(([name, at, put]) => {
    const place = at % name.length;
    return name.slice(0, place) + put + name.slice(place + (at % 3));
  });
  fc.assert(
    fc.property(damaged, (name) => void [demangleSwift(name, 'full'), demangleSwift(name, 'short')]),
    { numRuns: 3_000 },
  );
});

import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inTime } from '../../../testing/in-time.ts';
import { demangleFunction, withRuntimeNames } from '../demangle.ts';
import { demangleSwift } from './demangle-swift.ts';

const rows = gunzipSync(readFileSync(new URL('../../../../samples/names/swift.tsv.gz', import.meta.url)))
  .toString()
  .trimEnd()
  .split('\n')
  .map((line) => line.split('\t'));
const of = (kind: string): string[][] => rows.filter(([first]) => first === kind).map(([, ...rest]) => rest);

describe('Swift names of built frameworks', () => {
  it('are read, all of code and nearly all of data', () => {
    const symbols = of('symbol');
    const unread = (where: string) => symbols.filter(([name = '', place]) => place === where && demangleSwift(name, 'full') === null);
    expect(unread('code')).toEqual([]);
    // References that the compiler keeps for itself, to no code that could crash.
    expect(unread('data').every(([name = '']) => /M[dR]$/.test(name))).toBe(true);
    expect(symbols.length).toBeGreaterThan(1_000);
  });

  it('are called in short what the interface of the framework calls them', () => {
    const declared = of('api').filter(([, , , types = '']) => !types.startsWith('('));
    for (const [name = '', isStatic, path = ''] of declared)
      expect(demangleSwift(name, 'short')).toBe(`${isStatic ? 'static ' : ''}${path}`);
    expect(declared.length).toBeGreaterThan(100);
  });

  it('have in full the types of the interface, in its order', () => {
    // Imported types keep their C names; the interface has those that Swift gives them.
    const importedAs: Readonly<Record<string, string>> = { CVBufferRef: 'CVBuffer', OS_dispatch_queue: 'DispatchQueue' };
    // The interface says which framework an imported type is from; the name only that it was imported.
    const plain = (type: string) =>
      type.replace(/\bany /g, '').replace(/\b(?:\w+\.)+(?=\w)/g, (modules) => (/^(?:CanvasNative|Swift)\./.test(modules) ? modules : ''));
    let compared = 0;
    for (const [name = '', , path = '', types = ''] of of('api')) {
      const [result = '', ...parameters] = types.split('|').map(plain);
      if (result === '' || result.startsWith('(')) continue;
      const printed = plain(demangleSwift(name, 'full') ?? '')
        .replace(' throws ->', ' ->')
        .replace(/\b(?:CVBufferRef|OS_dispatch_queue)\b/g, (imported) => importedAs[imported] as string);
      const shown = path.endsWith(')') ? printed.slice(printed.indexOf('(')) : printed.slice(printed.indexOf(' : ') + 3);
      const labels = /\((.*)\)$/.exec(path)?.[1]?.split(':') ?? [];
      const expected = parameters.map((type, at) => (labels[at] === '_' || path.includes('(_:') ? type : `${labels[at]}: ${type}`));
      expect(shown).toBe(path.endsWith(')') ? `(${expected.join(', ')}) -> ${result}` : result);
      compared++;
    }
    expect(compared).toBeGreaterThan(80);
  });

  it('have the base name that the debug information gives', () => {
    const accessor: Readonly<Record<string, string>> = { get: 'getter', set: 'setter', modify: 'modify', read: 'read' };
    let agree = 0;
    const differing: string[] = [];
    for (const [name = '', plain = ''] of of('debug')) {
      const short = demangleSwift(name, 'short') ?? '';
      const [, base = '', kind] = /^(.+?)(?:\.(get|set|modify|read))?$/.exec(plain) ?? [];
      const wanted = kind ? `${base}.${accessor[kind]}` : base;
      const found = /^(?:init|deinit)$/.test(base) ? base : wanted;
      if (short.includes(found) || /closure #|\$defer|thunk|outlined|accessor|witness/.test(short)) agree++;
      else differing.push(`${name} ${plain} ${short}`);
    }
    expect(differing).toEqual([]);
    expect(agree).toBeGreaterThan(500);
  });
});

describe('constructs of the language', () => {
  it.each([
    ['$s3foo3BarC3bas3zimyAaEC_tF', 'foo.Bar.bas(zim: foo.zim) -> ()', 'Bar.bas(zim:)'],
    ['_T0BbD', 'Builtin.BridgeObject', 'Builtin.BridgeObject'],
    ['_T05Guide10NestBoxMapC3pinySi2at_tF', 'Guide.NestBoxMap.pin(at: Swift.Int) -> ()', 'NestBoxMap.pin(at:)'],
    ['$S5Guide4loadSaySSGyF', 'Guide.load() -> [Swift.String]', 'load()'],
    ['$s5Guide4loadSDySSSiGSgyYaKF', 'Guide.load() async throws -> [Swift.String : Swift.Int]?', 'load()'],
    ['$s5Guide4loadyyYaFTQ0_', '(1) await resume partial function for Guide.load() async -> ()', 'load()'],
    ['$s5Guide4loadyyYaFTY2_', '(3) suspend resume partial function for Guide.load() async -> ()', 'load()'],
    ['$s5Guide3MapC4loadyyFyycfU_', 'closure #1 () -> () in Guide.Map.load() -> ()', 'closure #1 in Map.load()'],
    [
      '$s5Guide3MapC4loadyyFyycfU_SiyXEfU0_',
      'closure #2 () -> Swift.Int in closure #1 () -> () in Guide.Map.load() -> ()',
      'closure #2 in closure #1 in Map.load()',
    ],
    [
      '$s5Guide3MapC4loadyyFyycfU_TA',
      'partial apply forwarder for closure #1 () -> () in Guide.Map.load() -> ()',
      'partial apply for closure #1 in Map.load()',
    ],
    ['$s5Guide3MapC6markerSSvW', 'Guide.Map.marker.didset : Swift.String', 'Map.marker.didset'],
    [
      '$s5Guide3MapC6markerSSvpfi',
      'variable initialization expression of Guide.Map.marker : Swift.String',
      'variable initialization expression of Map.marker',
    ],
    ['$s5Guide3MapCySSSicig', 'Guide.Map.subscript.getter : (Swift.Int) -> Swift.String', 'Map.subscript.getter'],
    ['$s5Guide5firstyxSgSayxGlF', 'Guide.first<A>([A]) -> A?', 'first<A>(_:)'],
    [
      '$s5Guide5countySixSTRzSH7ElementRpzlF',
      'Guide.count<A where A: Swift.Sequence, A.Element: Swift.Hashable>(A) -> Swift.Int',
      'count<A>(_:)',
    ],
    ['$sSa5GuideE6middlexSgvg', '(extension in Guide):Swift.Array.middle.getter : A?', 'Array.middle.getter'],
    [
      '$s5Guide5SpeciV2eeoiySbAC_ACtFZ',
      'static Guide.Speci.== infix(Guide.Speci, Guide.Speci) -> Swift.Bool',
      'static Speci.== infix(_:_:)',
    ],
    [
      '$s5Guide5SpeciVSQAASQ2eeoiySbx_xtFZTW',
      'protocol witness for static Swift.Equatable.== infix(A, A) -> Swift.Bool in conformance Guide.Speci : Swift.Equatable in Guide',
      'protocol witness for static Equatable.== infix(_:_:) in conformance Speci',
    ],
    [
      '$sIeg_IeyB_TR',
      'reabstraction thunk helper from @escaping @callee_guaranteed () -> () to @escaping @callee_unowned @convention(block) () -> ()',
      'thunk for @escaping @callee_guaranteed () -> ()',
    ],
    [
      '$s5Guide3MapC7addNoteyySS_SitFfA0_',
      'default argument 1 of Guide.Map.addNote(Swift.String, Swift.Int) -> ()',
      'default argument 1 of Map.addNote(_:_:)',
    ],
    ['$s5Guide3MapCMa', 'type metadata accessor for Guide.Map', 'type metadata accessor for Map'],
    ['$s5Guide3MapC0B3LogC5writeyyFZ', 'static Guide.Map.MapLog.write() -> ()', 'static Map.MapLog.write()'],
    ['$sSo6UIViewC5GuideE5shakeyyF', '(extension in Guide):__C.UIView.shake() -> ()', 'UIView.shake()'],
    ['$s5Guide3MapC4loadyyF.resume.0', 'Guide.Map.load() -> () with unmangled suffix ".resume.0"', 'Map.load()'],
  ])('%s', (name, full, short) => {
    expect(demangleSwift(name, 'full')).toBe(full);
    expect(demangleSwift(name, 'short')).toBe(short);
  });

  // After the grammar of the mangling document (swift/docs/ABI/Mangling.rst), a construct each.
  it.each([
    ['$sBi32_D', 'Builtin.Int32', 'Builtin.Int32'],
    ['$sBf64_D', 'Builtin.FPIEEE64', 'Builtin.FPIEEE64'],
    ['$sBf32_Bv4_D', 'Builtin.Vec4xFPIEEE32', 'Builtin.Vec4xFPIEEE32'],
    ['$sBpD', 'Builtin.RawPointer', 'Builtin.RawPointer'],
    ['$sBOD', 'Builtin.UnknownObject', 'Builtin.UnknownObject'],
    ['$sSiSgD', 'Swift.Int?', 'Int?'],
    ['$sSaySiGD', '[Swift.Int]', '[Int]'],
    ['$sSDySSSiGD', '[Swift.String : Swift.Int]', '[String : Int]'],
    ['$sSi_SStD', '(Swift.Int, Swift.String)', '(Int, String)'],
    ['$sSi1a_SS1btD', '(a: Swift.Int, b: Swift.String)', '(a: Int, b: String)'],
    ['$sytD', '()', '()'],
    ['$sSimD', 'Swift.Int.Type', 'Int.Type'],
    ['$sypD', 'Any', 'Any'],
    ['$sypXpD', 'Any.Type', 'Any.Type'],
    ['$sSQ_SHpD', 'Swift.Equatable & Swift.Hashable', 'Equatable & Hashable'],
    ['$syXlD', 'Swift.AnyObject', 'AnyObject'],
    ['$syycD', '() -> ()', '() -> ()'],
    ['$sS2icD', '(Swift.Int) -> Swift.Int', '(Int) -> Int'],
    ['$sySi_SStcD', '(Swift.Int, Swift.String) -> ()', '(Int, String) -> ()'],
    ['$sySiYaKcD', '(Swift.Int) async throws -> ()', '(Int) async throws -> ()'],
    ['$sySiYbcD', '@Sendable (Swift.Int) -> ()', '@Sendable (Int) -> ()'],
    ['$sySiXCD', '@convention(c) (Swift.Int) -> ()', '@convention(c) (Int) -> ()'],
    ['$sySiXBD', '@convention(block) (Swift.Int) -> ()', '@convention(block) (Int) -> ()'],
    ['$sySizcD', '(inout Swift.Int) -> ()', '(inout Int) -> ()'],
    ['$sySincD', '(__owned Swift.Int) -> ()', '(__owned Int) -> ()'],
    ['$sSiXwD', 'weak Swift.Int', 'weak Int'],
    ['$sSiXuD', 'unowned(unsafe) Swift.Int', 'unowned(unsafe) Int'],
    ['$sxD', 'A', 'A'],
    ['$sScT', 'Swift.Task', 'Task'],
    ['$s5Guide3MapC3PinVD', 'Guide.Map.Pin', 'Map.Pin'],
    ['$s5Guide3BoxV4SlotVySi_GD', 'Guide.Box<Swift.Int>.Slot', 'Box<Int>.Slot'],
    ['$s5Guide3BoxV4SlotVySi_SSGD', 'Guide.Box<Swift.Int>.Slot<Swift.String>', 'Box<Int>.Slot<String>'],
    ['$ss6ResultOySis5Error_pGD', 'Swift.Result<Swift.Int, Swift.Error>', 'Result<Int, Error>'],
    ['$sSiIegy_D', '@escaping @callee_guaranteed (@unowned Swift.Int) -> ()', '@escaping @callee_guaranteed (@unowned Int) -> ()'],
    [
      '$ss5Error_pIegzo_D',
      '@escaping @callee_guaranteed () -> (@error @owned Swift.Error)',
      '@escaping @callee_guaranteed () -> (@error @owned Error)',
    ],
    ['$s5Guide3useyyxAA3MapCRbzlF', 'Guide.use<A where A: Guide.Map>(A) -> ()', 'use<A>(_:)'],
    ['$s5Guide3useyyxRlzClF', 'Guide.use<A where A: AnyObject>(A) -> ()', 'use<A>(_:)'],
    ['$s5Guide3useyyxSTRzSi7ElementRtzlF', 'Guide.use<A where A: Swift.Sequence, A.Element == Swift.Int>(A) -> ()', 'use<A>(_:)'],
    ['$s5Guide3MapCfD', 'Guide.Map.__deallocating_deinit', 'Map.__deallocating_deinit'],
    ['$s5Guide3MapCfd', 'Guide.Map.deinit', 'Map.deinit'],
    ['$s5Guide3MapC2atACSi_tcfC', 'Guide.Map.__allocating_init(at: Swift.Int) -> Guide.Map', 'Map.__allocating_init(at:)'],
    ['$s5Guide3MapCACycfc', 'Guide.Map.init() -> Guide.Map', 'Map.init()'],
    ['$s5Guide3MapC6markerSivs', 'Guide.Map.marker.setter : Swift.Int', 'Map.marker.setter'],
    ['$s5Guide3MapC6markerSivM', 'Guide.Map.marker.modify : Swift.Int', 'Map.marker.modify'],
    ['$s5Guide3MapC6markerSivw', 'Guide.Map.marker.willset : Swift.Int', 'Map.marker.willset'],
    ['$s5Guide3MapC6markerSivau', 'Guide.Map.marker.unsafeMutableAddressor : Swift.Int', 'Map.marker.unsafeMutableAddressor'],
    ['$s5Guide3MapC6markerSivgZ', 'static Guide.Map.marker.getter : Swift.Int', 'static Map.marker.getter'],
    ['$s5Guide6markerSivp', 'Guide.marker : Swift.Int', 'marker'],
    ['$s5Guide1poiyS2i_SitF', 'Guide.+ infix(Swift.Int, Swift.Int) -> Swift.Int', '+ infix(_:_:)'],
    ['$s5Guide1popyS2iF', 'Guide.+ prefix(Swift.Int) -> Swift.Int', '+ prefix(_:)'],
    ['$s5Guide4loadyyF5innerL0_yyF', 'inner #2 () -> () in Guide.load() -> ()', 'inner #2 () in load()'],
    [
      '$s5Guide3Map33_0123456789ABCDEF0123456789ABCDEFLLC4loadyyF',
      'Guide.(Map in _0123456789ABCDEF0123456789ABCDEF).load() -> ()',
      'Map.load()',
    ],
    ['$s5Guide4loadyyFTo', '@objc Guide.load() -> ()', '@objc load()'],
    ['$s5Guide4loadyyFTD', 'dynamic Guide.load() -> ()', 'dynamic load()'],
    ['$s5Guide3MapC4loadyyFTj', 'dispatch thunk of Guide.Map.load() -> ()', 'dispatch thunk of Map.load()'],
    ['$s5Guide4loadyyFTm', 'merged Guide.load() -> ()', 'load()'],
    ['$s5Guide4loadyyxlFSi_Tg5', 'generic specialization <Swift.Int> of Guide.load<A>(A) -> ()', 'specialized load<A>(_:)'],
    [
      '$s5Guide4loadyySiFTf4d_n',
      'function signature specialization <Arg[0] = Dead> of Guide.load(Swift.Int) -> ()',
      'specialized load(_:)',
    ],
    ['$s5Guide4take1fyySiYaKXE_tF', 'Guide.take(f: (Swift.Int) async throws -> ()) -> ()', 'take(f:)'],
    ['$s5Guide4takeQryF', 'Guide.take() -> some', 'take()'],
    ['$s5Guide3MapC4loadyyYaFTu', 'async function pointer to Guide.Map.load() async -> ()', 'async function pointer to Map.load()'],
    ['$s5Guide3MapVWOe', 'outlined consume of Guide.Map', 'outlined consume of Map'],
    ['$s5Guide3MapCAA4PostAAWP', 'protocol witness table for Guide.Map : Guide.Post in Guide', 'protocol witness table for Map'],
    [
      '$s5Guide3BoxVyxGAA4PostAASQRzlMc',
      'protocol conformance descriptor for <A where A: Swift.Equatable> Guide.Box<A> : Guide.Post in Guide',
      'protocol conformance descriptor for <A> Box<A>',
    ],
    [
      '$s5Guide3BoxVyxGAA4PostA2aEP4sendyyFTW',
      'protocol witness for Guide.Post.send() -> () in conformance Guide.Box<A> : Guide.Post in Guide',
      'protocol witness for Post.send() in conformance Box<A>',
    ],
    ['$s5Guide3MapCMn', 'nominal type descriptor for Guide.Map', 'nominal type descriptor for Map'],
    ['$s5Guide3MapCN', 'type metadata for Guide.Map', 'type metadata for Map'],
    ['$s5Guide3MapVwxx', 'destroy value witness for Guide.Map', 'destroy for Map'],
  ])('%s is %s', (name, full, short) => {
    expect([demangleSwift(name, 'full'), demangleSwift(name, 'short')]).toEqual([full, short]);
  });

  it('with letters beyond ASCII are decoded', () => {
    expect(demangleSwift('$s5Guide0012vergenza_JFayyF', 'short')).toBe('vergüenza()');
  });
});

describe('classes as the Objective-C runtime knows them', () => {
  it.each([
    ['_TtC5Guide10NestBoxMap', 'Guide.NestBoxMap'],
    ['_TtCC5Guide10NestBoxMap3Pin', 'Guide.NestBoxMap.Pin'],
    ['_TtC5Guide99Map', null],
    ['_TtC5Guide', null],
  ])('%s', (name, written) => {
    expect(demangleSwift(name, 'full')).toBe(written);
  });
});

describe('names that are none', () => {
  it.each([
    '$sampleCount',
    '_$s',
    '$',
    'swift_retain',
    '$s5GuideA',
    '$s99Guide',
    '$s5Guide4loadyy',
    '$sySidtcD',
    '$s5Guide3MapC6markerSivl',
    '$s5Guide3MapCMp',
    '$s5Guide4loadyyYF',
    '$sBv4_D',
    '$sSi_D',
  ])('%s is left alone', (name) => {
    expect(demangleSwift(name, 'full')).toBeNull();
  });

  it('and damaged ones end soon, with a name or nothing', () => {
    const names = of('symbol').map(([name = '']) => name);
    fc.assert(
      fc.property(
        fc.constantFrom(...names),
        fc.array(fc.tuple(fc.nat(), fc.constantFrom(...'ABCDEFGIKLMOQRSTVWXYZabcdefgilmnoprstuvxyz_019')), { maxLength: 6 }),
        (name, changes) => {
          const letters = [...name];
          for (const [at, letter] of changes) letters[3 + (at % Math.max(1, letters.length - 3))] = letter;
          inTime(() => demangleSwift(letters.join(''), 'full'));
        },
      ),
      { numRuns: 3_000 },
    );
  });
});

describe('the mangling of before version 4', () => {
  // The forms of docs/ABI.rst of that time, and what its own demangler prints of them.
  it.each([
    ['_TtBf32_', 'Builtin.FPIEEE32', 'Builtin.FPIEEE32'],
    ['_TtBv4Bi8_', 'Builtin.Vec4xInt8', 'Builtin.Vec4xInt8'],
    ['_TtFSiSu', '(Swift.Int) -> Swift.UInt', '(Int) -> UInt'],
    ['_TtTSiSu_', '(Swift.Int, Swift.UInt)', '(Int, UInt)'],
    ['_TtT3fooSi3barSu_', '(foo: Swift.Int, bar: Swift.UInt)', '(foo: Int, bar: UInt)'],
    ['_TtMSi', 'Swift.Int.Type', 'Int.Type'],
    ['_TtRSi', 'inout Swift.Int', 'inout Int'],
    ['_TtXwC5Guide3Map', 'weak Guide.Map', 'weak Map'],
    ['_TtGSqSi_', 'Swift.Int?', 'Int?'],
    ['_TtGSaGVs10DictionarySSSi__', '[[Swift.String : Swift.Int]]', '[[String : Int]]'],
    ['_TtP5Guide5PerchS_4Nest_', 'Guide.Perch & Guide.Nest', 'Perch & Nest'],
    ['_TtP_', 'Any', 'Any'],
    ['_TtC5Guide3Map', 'Guide.Map', 'Map'],
    ['_TtCC5Guide3Map3Pin', 'Guide.Map.Pin', 'Map.Pin'],
    ['_TtGC5Guide3BoxSi_', 'Guide.Box<Swift.Int>', 'Box<Int>'],
    ['_TtGCC5Guide3Box3PinSi_Su_', 'Guide.Box<Swift.Int>.Pin<Swift.UInt>', 'Box<Int>.Pin<UInt>'],
    ['_TtC5GuideP33_83378C430F65473055F1BD53F3ADCDB73Map', 'Guide.(Map in _83378C430F65473055F1BD53F3ADCDB7)', 'Map'],
    ['_TF5Guide4findFT2atSi_Su', 'Guide.find(at: Swift.Int) -> Swift.UInt', 'find(at:)'],
    ['_TF5Guide4findFzT_Su', 'Guide.find() throws -> Swift.UInt', 'find()'],
    ['_TFC5Guide3Map3pinfT2atCS_3Pin_T_', 'Guide.Map.pin(at: Guide.Pin) -> ()', 'Map.pin(at:)'],
    ['_TToFC5Guide3Map3pinfT2atCS_3Pin_T_', '@objc Guide.Map.pin(at: Guide.Pin) -> ()', '@objc Map.pin(at:)'],
    ['_TFC5Guide3MapCfT_S0_', 'Guide.Map.__allocating_init() -> Guide.Map', 'Map.__allocating_init()'],
    ['_TFC5Guide3MapD', 'Guide.Map.__deallocating_deinit', 'Map.__deallocating_deinit'],
    ['_TFC5Guide3Mapg3pinCS_3Pin', 'Guide.Map.pin.getter : Guide.Pin', 'Map.pin.getter'],
    ['_TF5Guideau3mapSi', 'Guide.map.unsafeMutableAddressor : Swift.Int', 'map.unsafeMutableAddressor'],
    ['_TF5Guideoi1pFTCS_3MapVS_3Pin_OS_4Kind', 'Guide.+ infix(Guide.Map, Guide.Pin) -> Guide.Kind', '+ infix(_:_:)'],
    ['_TIF5Guide4findFTSi_SiA_', 'default argument 0 of Guide.find(Swift.Int) -> Swift.Int', 'default argument 0 of find(_:)'],
    ['_TF5Guide4findurFxT_', 'Guide.find<A>(A) -> ()', 'find<A>(_:)'],
    ['_TF5Guide4findu0_rFTxq__T_', 'Guide.find<A, B>(A, B) -> ()', 'find<A, B>(_:_:)'],
    ['_TF5Guide4finduRxs9EquatablerFxT_', 'Guide.find<A where A: Swift.Equatable>(A) -> ()', 'find<A>(_:)'],
    ['_TFE5GuideSa5firstfT_Si', '(extension in Guide):Swift.Array.first() -> Swift.Int', 'Array.first()'],
    ['_TFC5Guide3Map3pin', null, null],
    ['_Ttx', 'A', 'A'],
    ['_TtQQ', null, null],
    ['_T', null, null],
  ])('%s is %s', (mangled, full, short) => {
    expect(demangleSwift(mangled, 'full')).toBe(full);
    expect(demangleSwift(mangled, 'short')).toBe(short);
  });

  it('is read in bounded time, whatever stands behind its prefix', () => {
    const piece = fc.constantFrom(
      't',
      'C',
      'V',
      'G',
      'S_',
      'S0_',
      'Si',
      '5Guide',
      '3Map',
      '_',
      'F',
      'T',
      'P',
      'x',
      'q_',
      'u',
      'R',
      'r',
      'E',
      'Z',
      'I',
      'v',
      'K',
      'M',
      '99',
      'L_',
    );
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 300 }), (pieces) => void demangleSwift(`_T${pieces.join('')}`, 'full')),
      { numRuns: 2_000 },
    );
    for (const letter of ['G', 'F', 'M', 'E', 'tG', 'tF', 'Z']) expect(demangleSwift(`_T${letter.repeat(30_000)}`, 'full')).toBeNull();
  });

  it('of classes stands in what the Objective-C runtime writes', () => {
    expect(demangleFunction('-[_TtC5Guide3Map tileAt:]')).toBe('-[Guide.Map tileAt:]');
    expect(withRuntimeNames('-[_TtC5Guide3Map perch]: unrecognized selector sent to instance 0x1; no _Tt, no a_TtC5Guide3Map')).toBe(
      '-[Guide.Map perch]: unrecognized selector sent to instance 0x1; no _Tt, no a_TtC5Guide3Map',
    );
  });
});

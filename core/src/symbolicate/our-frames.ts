/** Which classes are the app's own. */
export interface OurFramesRule {
  /** Packages of the app, such as `com.larkfield`; empty: everything that is not known to be a library or the system. */
  readonly ours: readonly string[];
}

/** Packages of runtimes, systems and common libraries on Android and the JVM. */
// biome-ignore format: one table
const outsidePackages = [
  'android', 'androidx', 'com.android', 'com.facebook', 'com.google', 'com.sun', 'dagger', 'dalvik', 'groovy', 'io.ktor', 'io.netty', 'io.reactivex', 'java', 'javax', 'jdk', 'junit', 'kotlin',
  'kotlinx', 'libcore', 'mono', 'okhttp3', 'okio', 'org.apache', 'org.chromium', 'org.json', 'org.junit', 'org.slf4j', 'org.xml',
  'retrofit2', 'rx', 'scala', 'sun', '_COROUTINE',
];

const within = (name: string, prefix: string): boolean =>
  name.startsWith(prefix) && (name.length === prefix.length || name[prefix.length] === '.');

/** Whether a class is known to belong to a runtime, the system or a common library. */
export const isOutsideClass = (name: string): boolean => outsidePackages.some((prefix) => within(name, prefix));

/** Whether a class with its original name belongs to the app. */
export const isOurClass = (name: string, rule: OurFramesRule): boolean =>
  rule.ours.length > 0 ? rule.ours.some((prefix) => within(name, prefix)) : !isOutsideClass(name);

/** Folders of the systems, and runtimes that are shipped inside apps but are nobody's own code. */
const outsideImages =
  /^\/(?:system|system_ext|apex|vendor|product|usr|System|Library|lib)\/|\.(?:oat|odex|vdex|art)$|(?:^|[/!])(?:libc\+\+_shared|libhermes\w*|libjsc|libflutter|libreactnative\w*|libmono\w*|libcoreclr|libart|libc|libm|libdl|liblog|linker(?:64)?|libswift\w*|libsystem_\w+|libobjc\.A|libdyld|libc\+\+(?:abi)?\.1|dyld|dyld_sim)(?:\.so|\.dylib)?$|^(?:CoreFoundation|Foundation|UIKit|UIKitCore|GraphicsServices|QuartzCore|SwiftUI|Flutter|hermes|JavaScriptCore)$|^\[(?!anon:)|^<|\/(?:Flutter|hermes|JavaScriptCore)\.framework\//;

/** Whether machine code lies in an image of the app. */
export const isOurImage = (image: string | null): boolean => image !== null && !outsideImages.test(image);

/** Whether a script is the app's, not a package's or the engine's. */
export const isOurScript = (file: string): boolean =>
  !/(?:^|\/)node_modules\/|^org-dartlang-sdk:|(?:^|\/)(?:dart-sdk|flutter_web_sdk|flutter\/(?:packages|bin)|\.pub-cache)\/|^package:flutter\/|^node:|^internal\/|^\[native|(?:^|\/)InternalBytecode\.js$/.test(
    file,
  );

/** Functions that transpilers put into a script to do what the language of an engine lacks, without their underscores. */
// biome-ignore format: one table
const helpers: ReadonlySet<string> = new Set([
  'applydecoratedinitializer', 'applydecs', 'arrayliketoarray', 'arraywithholes', 'arraywithoutholes', 'assertclassbrand', 'assertthisinitialized',
  'asyncgeneratordelegate', 'asyncgeneratorstep', 'asynctogenerator', 'awaitasyncgenerator', 'callsuper', 'checkinrhs', 'checkprivateredeclaration',
  'classapplydescriptorget', 'classapplydescriptorset', 'classcallcheck', 'classprivatefieldget', 'classprivatefieldinitspec', 'classprivatefieldloosebase',
  'classprivatefieldset', 'classprivategetter', 'classprivatemethodget', 'classprivatemethodinitspec', 'classprivatesetter', 'classstaticprivatefieldspecget',
  'classstaticprivatemethodget', 'createclass', 'createforofiteratorhelper', 'createforofiteratorhelperloose', 'createsuper', 'defineenumerableproperties',
  'defineproperty', 'getprototypeof', 'inherits', 'inheritsloose', 'interoprequiredefault', 'interoprequirewildcard', 'isnativefunction',
  'isnativereflectconstruct', 'iterabletoarray', 'iterabletoarraylimit', 'newarrowcheck', 'next', 'noniterablerest', 'noniterablespread',
  'objectdestructuringempty', 'objectspread', 'objectspread2', 'objectwithoutproperties', 'objectwithoutpropertiesloose', 'overloadyield',
  'possibleconstructorreturn', 'readonlyerror', 'regenerator', 'regeneratorasync', 'regeneratorasyncgen', 'regeneratordefine', 'regeneratordefine2',
  'regeneratorkeys', 'regeneratorruntime', 'regeneratorvalues', 'setfunctionname', 'setprototypeof', 'slicedtoarray', 'superpropget', 'superpropset',
  'taggedtemplateliteral', 'taggedtemplateliteralloose', 'throw', 'toconsumablearray', 'toprimitive', 'topropertykey', 'tsgenerator',
  'unsupportediterabletoarray', 'webpackrequire', 'wrapasyncgenerator', 'wrapnativesuper', 'wrapregexp', 'writeonlyerror',
]);
/** Those whose names are words of everybody: with the two underscores that only tools put before them. */
const wordHelpers =
  /^__(?:assign|async|asyncDelegator|asyncGenerator|asyncValues|await|awaiter|commonJS|commonJSMin|decorate|decorateClass|decorateElement|defNormalProp|esm|esmMin|exportStar|extends|forAwait|generator|importDefault|importStar|makeTemplateObject|name|param|private(?:Add|Get|Method|Set)|publicField|read|require|rest|runInitializers|spread\w*|super(?:Get|Set)|toCommonJS|toESM|values|yieldStar)$/;

/** Functions of Dart's runtime in a program that was compiled to a script; they throw, compare and wait for what others wrote. */
const dartHelper =
  /^(?:Object|A|H|P|J|Closure)\.(?:wrapException|throw\w*|_?rethrow\w*|iae|ioore|diagnose\w+|argumentErrorValue|unwrapException|getTraceFromException|convertDartClosureToJS|invokeClosure|initializeExceptionWrapper|check(?:Num|String)|_as\w+|_generalA?s\w+|_fail\w*|_wrapJsFunctionForAsync\w*|_awaitOnObject\w*|_rootRun\w*|_(?:start)?[mM]icrotaskLoop|(?:[gs]et)?\$\w+\$\w+)$|^(?:wrapException|throwExpression|_async(?:StartSync|Rethrow|Await))$/;
const dartScript = /\.dart(?:\.m?js)?(?:$|[?#])/;

/** Whether a function of a script is a helper that a transpiler or compiler put in. */
export const isHelper = (name: string, file: string | null): boolean =>
  name === 'asyncGeneratorStep' ||
  wordHelpers.test(name) ||
  (name.startsWith('_') && helpers.has(name.replaceAll(/[_$]/g, '').toLowerCase())) ||
  (dartScript.test(file ?? '') && dartHelper.test(name));

const outsideLibraries = /^dart:|^package:(?:flutter|flutter_\w+|sky_engine|stack_trace|async|bloc|provider|riverpod|dio|http)\//;

/** Whether a Dart library is the app's; code without a library is, until symbols tell otherwise. */
export const isOurLibrary = (library: string | null): boolean => library === null || !outsideLibraries.test(library);

const outsideNamespaces = [
  'System',
  'Microsoft',
  'Mono',
  'Java',
  'Android',
  'AndroidX',
  'Xamarin',
  'ObjCRuntime',
  'Foundation',
  'UIKit',
  'Interop',
  'Newtonsoft',
];

/** Whether a .NET method is the app's: named by the rule, or of no namespace that is known to be a library's. */
export const isOurMethod = (method: string, rule: OurFramesRule): boolean =>
  rule.ours.some((prefix) => within(method, prefix)) || !outsideNamespaces.some((prefix) => within(method, prefix));

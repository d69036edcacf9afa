/** Names that compilers make up differ from build to build; these functions leave what a developer wrote. */

/** The part of a class that was written with a name: no lambdas, anonymous classes, proxies or state machines. */
export function writtenClass(name: string): string {
  return name
    .replace(/\$\$(Lambda|ExternalSynthetic|InternalSynthetic|SyntheticLambda|FastClassBy|EnhancerBy)[^.]*$/, '')
    .replace(/\$\$[0-9a-f]+$/, '')
    .replace(/(\$(\d+|lambda|sam|inlined|special|suspend[A-Z]?\w*|[a-z]\w*(?=\$\d)))+(\$.*)?$/, '')
    .replace(/-IA$/, '');
}

/** The method a developer wrote: the one that holds a lambda instead of the lambda, `run` of a coroutine's outer function. */
export function writtenMethod(name: string): string {
  return name
    .replace(/^lambda\$([^$]+)\$.*$/, '$1')
    .replace(/^\$r8\$lambda\$.*$/, 'lambda')
    .replace(/^([^$]+)\$(lambda|default|suspendImpl).*$/, '$1')
    .replace(/^([^$-]+)-[0-9A-Za-z_]{7}$/, '$1');
}

/** Bridges between a class and its nested ones, and calls through reflection or generated accessors. */
export const isCompilerMade = (method: string): boolean => /^(access\$|-\$\$Nest\$|bridge\$|\$jacoco)/.test(method);

/** Classes whose methods only check and throw; the frame that called them is the one to open. */
const reporters =
  /^(Require|Requires|Requirements|Preconditions|Check|Checks|Checker|Assert|Asserts|Assertions|Ensure|Verify|Validate|Guard|Contract|Intrinsics)$/;

/** Whether a class only reports trouble that others made. */
export const reportsTrouble = (className: string): boolean => reporters.test(simpleClass(className));

/** `com.larkfield.Outer$Inner` → `Outer$Inner`. */
export const simpleClass = (name: string): string => name.slice(name.lastIndexOf('.') + 1);

/** `com.larkfield.Outer$Inner.method` → class and method. */
export function splitFunction(name: string): { class: string; method: string } {
  const dot = name.lastIndexOf('.');
  return dot < 0 ? { class: '', method: name } : { class: name.slice(0, dot), method: name.slice(dot + 1) };
}

/** The function a frame is grouped by: written class and written method. */
export function writtenFunction(name: string): string {
  const { class: declaring, method } = splitFunction(name);
  // A Kotlin coroutine body lives in `Screen$load$1.invokeSuspend`; what was written is `Screen.load`.
  const body = /^(.*?)\$([a-z]\w*)\$\d+(\$.*)?$/.exec(declaring);
  if (body && /^(invokeSuspend|invoke|run|call|apply|accept|emit)$/.test(method)) return `${writtenClass(body[1] as string)}.${body[2]}`;
  return `${writtenClass(declaring)}.${writtenMethod(method)}`;
}

/** Short form for titles: `NightMap.tileFor`, nested classes as people write them. */
export function shortFunction(name: string): string {
  const { class: declaring, method } = splitFunction(name);
  return declaring === '' ? method : `${simpleClass(declaring).replaceAll('$', '.')}.${method}`;
}

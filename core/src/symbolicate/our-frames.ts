/** Which classes are the app's own. */
export interface OurFramesRule {
  /** Packages of the app, such as `com.larkfield`; empty: everything that is not known to be a library or the system. */
  readonly ours: readonly string[];
}

/** Packages of runtimes, systems and common libraries on Android and the JVM. */
// biome-ignore format: one table
const outsidePackages = [
  'android', 'androidx', 'com.android', 'com.google', 'com.sun', 'dagger', 'dalvik', 'groovy', 'io.ktor', 'io.netty', 'io.reactivex', 'java', 'javax', 'jdk', 'junit', 'kotlin',
  'kotlinx', 'libcore', 'okhttp3', 'okio', 'org.apache', 'org.chromium', 'org.json', 'org.junit', 'org.slf4j', 'org.xml',
  'retrofit2', 'rx', 'scala', 'sun', '_COROUTINE',
];

const within = (name: string, prefix: string): boolean =>
  name.startsWith(prefix) && (name.length === prefix.length || name[prefix.length] === '.');

/** Whether a class is known to belong to a runtime, the system or a common library. */
export const isOutsideClass = (name: string): boolean => outsidePackages.some((prefix) => within(name, prefix));

/** Whether a class with its original name belongs to the app. */
export const isOurClass = (name: string, rule: OurFramesRule): boolean =>
  rule.ours.length > 0 ? rule.ours.some((prefix) => within(name, prefix)) : !isOutsideClass(name);

import { downloadOf } from '../client/downloads';
import type { PageShell } from '../shell/page-shell';

/** How an app sends its first report, for each platform; `proof` says what stands behind the snippet. */
export interface Snippet {
  readonly platform: string;
  readonly proof: string;
  /** What is to be installed first, as a command. */
  readonly install?: string;
  readonly code: string;
}

type Server = Pick<PageShell, 'serverAddress' | 'serverVersion'>;

/** What is filled into a snippet. */
interface Filled {
  readonly shell: Server;
  readonly server: string;
  readonly key: string;
  readonly app: string;
}

type MakeSnippet = (filled: Filled) => Snippet;

const curlSnippet: MakeSnippet = ({ server, key }) => ({
  platform: 'curl',
  proof: 'run by our tests',
  code: `curl '${server}/intake/v1/batch' \\
  -H 'authorization: Bearer ${key}' \\
  --data-binary '{"type":"report","id":"'$(uuidgen 2>/dev/null || cat /proc/sys/kernel/random/uuid)'","kind":"error","occurredAt":"'$(date -u +%FT%TZ)'","version":"1.0.0","build":"1","exceptions":[{"type":"FirstReport","message":"hello"}]}'`,
});

const javaScriptSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'JavaScript',
  proof: 'installed and run by our tests, in a browser and in Node',
  install: `npm install ${downloadOf(shell, 'rough-ember-collector.tgz')}`,
  code: `import { startCollector } from '@rough-ember/collector';

// Uncaught errors and rejections are reported by themselves; collector.report(error) reports one that you caught.
const collector = startCollector({ server: '${server}', key: '${key}', version: '4.3.0', build: '430' });`,
});

const nodeSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'Node',
  proof: 'installed and run by our tests',
  install: `npm install ${downloadOf(shell, 'rough-ember-collector.tgz')}`,
  code: `import { startCollector } from '@rough-ember/collector';
import { fileStorage } from '@rough-ember/collector/node';

// What could not be sent waits in the folder, and goes at the next start.
const collector = startCollector({ server: '${server}', key: '${key}', version: '4.3.0', build: '430', storage: fileStorage('ember') });`,
});

const javaSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'Java',
  proof: 'compiled and run by our tests',
  install: `curl -O ${downloadOf(shell, 'EmberReporter.java')}`,
  code: `// Anywhere but on Android the folder is one of your program's own.
EmberReporter.install(new EmberReporter.Options("${server}", "${key}", "4.3.0", "430", getFilesDir()));`,
});

const androidSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'Android',
  proof: 'compiled and run by our tests with stand-ins of the system’s classes, not on a device',
  install: `curl -O ${downloadOf(shell, 'EmberReporter.java')} -O ${downloadOf(shell, 'EmberAndroid.java')}`,
  code: `// In onCreate of your Application: crashes, screens, and what the system knows of native crashes, hangs and ends for memory.
EmberAndroid.install(this, "${server}", "${key}");`,
});

const nativeSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'C and C++',
  proof: 'compiled and run by our tests, on Linux',
  install: `curl --remote-name-all ${downloadOf(shell, 'ember_native.c').replace(/\.c$/, '.{c,h,hpp}')}`,
  code: `#include "ember_native.hpp"

static void send(const char *path, void *) {
  // With the HTTP client of your app; a file that is sent twice is one report.
  std::string command = "curl -s --fail '${server}/intake/v1/file' -H 'authorization: Bearer ${key}' --data-binary @" + std::string(path);
  if (std::system(command.c_str()) == 0) std::remove(path);
}

void watch(const char *folder) {
  ember_native_start(folder, "4.3.0", "430");
  ember::watch_exceptions();
  std::string files = folder;
  // What crashed before goes now, when the app is well again.
  std::thread([files] { ember_native_pending(files.c_str(), send, nullptr); }).detach();
}`,
});

const buildServerSnippet: MakeSnippet = ({ shell, server, app }) => ({
  platform: 'Build server',
  proof: 'run by our tests',
  code: `export EMBER_UPLOAD_TOKEN=upload_…
npx --yes --package ${downloadOf(shell, 'rough-ember-cli.tgz')} ember upload --server ${server} --app ${app} --version 4.3.0 --build 430 mapping.txt`,
});

const kotlinSnippet: MakeSnippet = ({ server, key }) => ({
  platform: 'Kotlin',
  proof: 'compiled and run by our tests, outside Android',
  code: `val earlier = Thread.getDefaultUncaughtExceptionHandler()
Thread.setDefaultUncaughtExceptionHandler { thread, error ->
  // Kept on the device; sent at the next launch, when the app is well again.
  File(filesDir, "crash.txt").writeText("Exception in thread \\"\${thread.name}\\" " + error.stackTraceToString())
  earlier?.uncaughtException(thread, error)
}

fun sendCrashOfLastLaunch() = thread {
  val file = File(filesDir, "crash.txt").takeIf { it.exists() } ?: return@thread
  val id = UUID.nameUUIDFromBytes(file.readBytes() + file.lastModified().toString().toByteArray())
  val address = URL("${server}/intake/v1/file?version=4.3.0&build=430&osName=Android&osVersion=\${Build.VERSION.RELEASE}&deviceModel=\${Uri.encode(Build.MODEL)}&id=$id")
  with(address.openConnection() as HttpURLConnection) {
    requestMethod = "POST"; doOutput = true
    setRequestProperty("authorization", "Bearer ${key}")
    outputStream.use { file.inputStream().copyTo(it) }
    if (responseCode == 202) file.delete()
  }
}`,
});

const swiftSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'Swift',
  proof: 'not compiled by our tests, only read by a parser',
  install: `curl -O ${downloadOf(shell, 'EmberReporter.swift')}`,
  code: `// In application(_:didFinishLaunchingWithOptions:): crashes and hangs as the system tells them, exceptions, sessions.
let ember = EmberReporter.install(.init(server: "${server}", key: "${key}"))`,
});

const dartSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'Dart',
  proof: 'not compiled by our tests, only read by a parser',
  install: `curl --remote-name-all ${downloadOf(shell, 'ember_reporter.dart').replace('ember_reporter', 'ember_{reporter,place_io,place_web,flutter}')}`,
  code: `void main() {
  WidgetsFlutterBinding.ensureInitialized();
  // Without Flutter: EmberReporter.install(…), and reporter.guard(run) in place of runApp.
  final reporter = EmberFlutter.install(EmberOptions(
    server: '${server}', key: '${key}', version: '4.3.0', build: '430', folder: folderOfTheApp,
  ));
  runApp(Trails(observers: [EmberScreens(reporter)]));
}`,
});

const dotnetSnippet: MakeSnippet = ({ shell, server, key }) => ({
  platform: 'C#',
  proof: 'compiled and run by our tests, where Mono is to be had',
  install: `curl -O ${downloadOf(shell, 'EmberReporter.cs')}`,
  code: `// The folder is one of your program's own.
EmberReporter.Install(new EmberReporter.Options("${server}", "${key}", "4.3.0", "430", FileSystem.AppDataDirectory));`,
});

const openTelemetrySnippet: MakeSnippet = ({ server, key }) => ({
  platform: 'OpenTelemetry',
  proof: 'proven with the JavaScript exporter by our tests',
  code: `OTEL_EXPORTER_OTLP_LOGS_ENDPOINT=${server}/v1/logs
OTEL_EXPORTER_OTLP_LOGS_HEADERS=authorization=Bearer%20${key}
OTEL_RESOURCE_ATTRIBUTES=service.version=4.3.0,app.build_id=430,os.name=Android,os.version=15`,
});

const makers: readonly MakeSnippet[] = [
  curlSnippet,
  javaScriptSnippet,
  nodeSnippet,
  javaSnippet,
  androidSnippet,
  nativeSnippet,
  buildServerSnippet,
  kotlinSnippet,
  swiftSnippet,
  dartSnippet,
  dotnetSnippet,
  openTelemetrySnippet,
];

/** Each snippet with the address of this server and a key filled in: word for word what works. */
export const snippets = (shell: Server, key: string, app: string, server = shell.serverAddress): readonly Snippet[] =>
  makers.map((make) => make({ shell, server, key, app }));

import 'dart:convert';
import 'dart:io';
import 'dart:isolate';

/// What a server answered.
typedef EmberAnswer = ({int status, String said});

/// A crash that the native client wrote down (docs/native-crash.md).
class EmberCrashFile {
  EmberCrashFile(this._file, this.bytes);

  final File _file;
  final List<int> bytes;

  void remove() => _file.deleteSync();
}

EmberPlace openPlace(String folder) => EmberPlace(Directory(folder)..createSync(recursive: true));

/// Where items wait on a device: a folder.
class EmberPlace {
  EmberPlace(this._folder);

  static const _patience = Duration(seconds: 20);
  static final _ofNativeClient = RegExp(r'^(\d{1,10})-[0-9a-f-]{36}\.ember$');

  final Directory _folder;

  Map<String, Object?> get circumstances => {
        'os': {'name': _systemName, 'version': _clip(Platform.operatingSystemVersion)},
        'locale': _clip(Platform.localeName.split('.').first.replaceAll('_', '-')),
      };

  static String get _systemName => switch (Platform.operatingSystem) {
        'android' => 'Android',
        'ios' => 'iOS',
        'macos' => 'macOS',
        'windows' => 'Windows',
        'linux' => 'Linux',
        final other => other,
      };

  static String _clip(String text) => text.length <= 50 ? text : text.substring(0, 50);

  File _file(String name) => File('${_folder.path}${Platform.pathSeparator}$name');

  /// The names of what waits, the oldest first.
  List<String> waiting() => [
        for (final one in _folder.listSync())
          if (one is File && one.path.endsWith('.item')) one.uri.pathSegments.last,
      ]..sort();

  String? read(String name) {
    final file = _file(name);
    return file.existsSync() ? file.readAsStringSync() : null;
  }

  /// Written beside and renamed: complete under its name, or not there.
  void write(String name, String text) {
    final half = _file('$name.half')..writeAsStringSync(text, flush: true);
    half.renameSync(_file(name).path);
  }

  void remove(String name) {
    final file = _file(name);
    if (file.existsSync()) file.deleteSync();
  }

  /// Crashes that the native client wrote into the folder, of processes that are gone or told them to the end.
  Iterable<EmberCrashFile> crashFiles() sync* {
    for (final one in _folder.listSync().whereType<File>()) {
      final process = _ofNativeClient.firstMatch(one.uri.pathSegments.last)?.group(1);
      if (process == null) continue;
      final runs = process == '$pid' || Directory('/proc/$process').existsSync();
      final bytes = one.readAsBytesSync();
      final text = latin1.decode(bytes);
      if (runs && !text.endsWith('\nend\n')) continue;
      if (text.startsWith('ember-crash ')) {
        yield EmberCrashFile(one, bytes);
      } else {
        one.deleteSync();
      }
    }
  }

  Future<EmberAnswer> post(Uri address, Map<String, String> headers, List<int> body) async {
    final client = HttpClient()..connectionTimeout = _patience;
    try {
      final request = await client.postUrl(address).timeout(_patience);
      headers.forEach(request.headers.set);
      request.contentLength = body.length;
      request.add(body);
      final response = await request.close().timeout(_patience);
      final said = await utf8.decodeStream(response).timeout(_patience);
      return (status: response.statusCode, said: said);
    } finally {
      client.close(force: true);
    }
  }
}

/// Reports what nothing catches in an isolate that was spawned, which tells it as two texts.
void watchIsolate(Isolate isolate, void Function(Object error, StackTrace stack) crash) {
  final port = RawReceivePort((Object? told) {
    if (told is! List || told.length != 2) return;
    crash(RemoteError('${told[0]}', '${told[1] ?? ''}'), StackTrace.fromString('${told[1] ?? ''}'));
  });
  // Whoever only waits for errors is not to keep the program running.
  port.keepIsolateAlive = false;
  isolate.addErrorListener(port.sendPort);
}

import 'dart:async';
import 'dart:convert';
import 'dart:math';

import 'ember_place_io.dart' if (dart.library.js_interop) 'ember_place_web.dart';

/// Texts, numbers, booleans, or lists and maps of those.
typedef Values = Map<String, Object?>;

/// What the reporter must know.
class EmberOptions {
  EmberOptions({
    required String server,
    required this.key,
    required this.version,
    required this.build,
    required this.folder,
    this.buildType = const bool.fromEnvironment('dart.vm.product') ? 'release' : 'debug',
    this.inDebugBuilds = false,
    this.personId,
    this.sample = const {},
    this.stateAtCrash,
    this.circumstances,
    this.beforeSend,
    this.dryRun = false,
  }) : server = server.replaceAll(RegExp(r'/+$'), '');

  final String server;
  final String key;
  final String version;
  final String build;

  /// A folder of the app's own, which is made when it does not exist; on the web a name, for the browser's storage is the place.
  final String folder;

  /// With "debug" nothing is collected unless [inDebugBuilds] is set; on the web tell it, for there nothing else does.
  final String buildType;
  final bool inDebugBuilds;
  final String? personId;

  /// Share of each kind ("crash", "error") that is sent, from 0 to 1; all unless told. Sessions are always sent; "trail" is the share of them
  /// that tell what happened in them though nothing went wrong, 0.1 unless told.
  final Map<String, double> sample;

  /// Asked at the moment of a crash or error; gives the app's own state.
  final Values Function()? stateAtCrash;

  /// Asked for each item; gives what the protocol has of the device and its surroundings, such as "device", "network".
  final Values Function()? circumstances;

  /// Looks at each item before it is kept; null keeps nothing of it, and so does one that fails.
  final Values? Function(Values item)? beforeSend;

  /// Prints what would be sent, and sends nothing.
  final bool dryRun;
}

/// Reports what nobody caught to a Rough Ember server, from devices and from the web: three files to copy into any Dart program, Dart 3.3, no
/// dependencies; `ember_flutter.dart` beside them hears of what Flutter catches. A crash is kept at once, and sent when the app is started again.
///
/// Not compiled by the tests of Rough Ember, which have no compiler for it: a parser reads it.
class EmberReporter {
  EmberReporter._(this._options, this._place) : _personId = _options.personId {
    installationId = _installation();
  }

  static const _mostFiles = 40;
  static const _batchFiles = 20;
  static const _mostTrail = 100;
  static const _mostNamed = 100;
  static const _longestName = 300;
  static const _longestStack = 60000;
  static const _longestAway = Duration(minutes: 1);

  final EmberOptions _options;

  /// Where items wait; null when it is off: a debug build, or something went wrong at its start. Every call is taken, and nothing happens.
  final EmberPlace? _place;
  late final String installationId;

  /// Another one after the app was in the background for more than a minute.
  String sessionId = _uuid();
  String _startedAt = _now();
  Stopwatch _used = Stopwatch()..start();
  DateTime? _awaySince;
  int _sequence = 0;
  final List<Values> _trail = [];
  final Map<String, int> _screens = {};
  final Map<String, _RequestCounts> _requests = {};
  final Values _attributes = {};
  final Map<String, String> _flags = {};
  final Expando<bool> _reported = Expando();
  String? _personId;
  String? _contact;
  bool _asksState = false;
  bool _toldRefusal = false;
  Future<void>? _sending;

  /// Starts reporting, and sends what the last launch left. Gives a reporter that does nothing when this build is not to report, and when it
  /// cannot.
  static EmberReporter install(EmberOptions options) {
    if (options.buildType == 'debug' && !options.inDebugBuilds) return _idle(options, 'debug builds are not reported');
    try {
      final reporter = EmberReporter._(options, openPlace(options.folder));
      reporter._write('session', reporter._session('open'));
      reporter._sendInBackground();
      return reporter;
    } catch (problem) {
      // An app must run without its reporter.
      return _idle(options, '$problem');
    }
  }

  static EmberReporter _idle(EmberOptions options, String why) {
    _tell('is off: $why');
    return EmberReporter._(options, null);
  }

  /// What its developer should know.
  static void _tell(String words) {
    // ignore: avoid_print
    print('Rough Ember $words');
  }

  /// Runs the app, and reports what nothing in it catches.
  R? guard<R>(R Function() run) => runZonedGuarded(run, crash);

  /// Reports an error that nothing caught.
  void crash(Object error, StackTrace stack) => _keep(error, stack, 'crash');

  /// Reports an error that the app handled, and goes on.
  void report(Object error, [StackTrace? stack]) {
    _keep(error, stack ?? StackTrace.current, 'error');
  }

  /// Says which screen is shown now.
  void screen(String given) {
    final name = _clip(given, _longestName);
    if (name.isEmpty) return;
    _note('screen', {'name': name});
    if (_screens.containsKey(name) || _screens.length < _mostNamed) _screens[name] = (_screens[name] ?? 0) + 1;
  }

  /// Says how a request went. [path] is a template such as "/tiles/{zoom}/{x}", never with a query; [status] is null when no answer came.
  void request(String method, String host, String path, {int? status, required int durationMs}) {
    _note('request', {
      'method': _clip(method, 20),
      'host': _clip(host, _longestName),
      'path': _clip(path, 1000),
      'status': status,
      'durationMs': max(0, durationMs),
    });
    final name = '$method $host$path';
    if (!_requests.containsKey(name) && _requests.length >= _mostNamed) return;
    final counts = _requests[name] ??= _RequestCounts(_clip(method, 20), _clip(host, _longestName), _clip(path, _longestName));
    counts.add(status, durationMs);
  }

  /// A line of the app's log; level is debug, info, warn or error.
  void log(String level, String message) => _note('log', {'level': level, 'message': _clip(message, 2000)});

  /// Something of the app's own, with values or without.
  void custom(String name, [Values values = const {}]) {
    if (name.isNotEmpty) _note('custom', {'name': _clip(name, _longestName), 'attributes': values});
  }

  /// Something that happened to the app: "foreground", "background", "low-memory".
  void lifecycle(String state) {
    if (state.isEmpty) return;
    _note('lifecycle', {'state': _clip(state, _longestName)});
    if (state == 'background' && _awaySince == null) _wentAway();
    if (state == 'foreground' && _awaySince != null) _cameBack();
  }

  /// In the background the app may be ended without a word, so what is known of its session is written down.
  void _wentAway() {
    _awaySince = DateTime.now();
    _used.stop();
    _write('session', _session('open'));
    _sendInBackground();
  }

  void _cameBack() {
    final isAnother = DateTime.now().difference(_awaySince!) > _longestAway;
    _awaySince = null;
    if (isAnother) {
      _write('session', _session('ended'));
      sessionId = _uuid();
      _startedAt = _now();
      _sequence = 0;
      _screens.clear();
      _requests.clear();
      _used = Stopwatch()..start();
      _write('session', _session('open'));
      _sendInBackground();
    } else {
      _used.start();
    }
  }

  /// A value that reports and the session are told with: a text, number, boolean, or a list of those; null takes it back.
  void attribute(String name, Object? value) => _put(_attributes, name, value);

  /// A feature flag or experiment, with the variant that it has from now on; null takes it back.
  void flag(String name, String? variant) {
    _put(_flags, name, variant == null ? null : _clip(variant, 200));
    _note('flag', {'name': _clip(name, _longestName), 'variant': _clip(variant ?? 'none', 200)});
  }

  static void _put<V>(Map<String, V> values, String given, V? value) {
    final name = _clip(given, _longestName);
    if (name.isEmpty) return;
    if (value == null) {
      values.remove(name);
    } else if (values.containsKey(name) || values.length < _mostNamed) {
      values[name] = value;
    }
  }

  /// Who uses the app from now on, by the id that the app knows them by; null for nobody it knows.
  void person(String? id) => _personId = id;

  /// How the person can be reached, if they left it.
  void contact(String? how) => _contact = how == null ? null : _clip(how, _longestName);

  /// Says that the session is over.
  Future<void> end() {
    _write('session', _session('ended'));
    return flush();
  }

  /// Sends what waits; completes when the server answered or cannot be reached.
  Future<void> flush() => _sending ??= _send().whenComplete(() => _sending = null);

  void _sendInBackground() => unawaited(flush());

  void _note(String kind, Values rest) {
    if (_place == null) return;
    _trail.add({'kind': kind, 'at': _now(), ...rest});
    if (_trail.length > _mostTrail) _trail.removeAt(0);
  }

  void _keep(Object error, StackTrace stack, String kind) {
    if (_place == null) return;
    try {
      if (_isKnown(error)) return;
      final share = _options.sample[kind] ?? 1;
      if (Random().nextDouble() < share) {
        _write('report', {
          'type': 'report',
          'id': _uuid(),
          'kind': kind,
          'occurredAt': _now(),
          'sessionId': sessionId,
          if (share < 1) 'samplePercent': 100 * share,
          ..._context(),
          'exceptions': [
            {'type': '${error.runtimeType}', 'message': _wordsOf(error), 'stack': _clip('$stack', _longestStack)},
          ],
          'trail': [..._trail],
          'flags': {..._flags},
          'attributes': {..._attributes, ..._stateNow()},
        });
      }
      // Whether its report is kept or not, it happened.
      if (kind == 'crash') _write('session', _session('crashed'));
      _sendInBackground();
    } catch (problem) {
      // Whatever happens here must not hide the error itself.
      _tell('could not report: $problem');
    }
  }

  /// Whether an error was reported before; it may come by several ways: caught by the framework, then by its zone.
  bool _isKnown(Object error) {
    try {
      if (_reported[error] == true) return true;
      _reported[error] = true;
    } on ArgumentError {
      // Texts, numbers and records are not told apart, so each is one of its own.
    }
    return false;
  }

  /// Words are made by the error's own code, which may fail.
  static String _wordsOf(Object error) {
    try {
      return _clip('$error', 16000);
    } catch (_) {
      return '';
    }
  }

  /// What the app says of its state; nothing while it is saying it, for what is reported meanwhile would ask again without end.
  Values _stateNow() {
    final ask = _options.stateAtCrash;
    if (ask == null || _asksState) return const {};
    _asksState = true;
    try {
      return ask();
    } catch (problem) {
      return {'stateAtCrash': 'failed: ${problem.runtimeType}'};
    } finally {
      _asksState = false;
    }
  }

  Values _session(String state) => {
        'type': 'session',
        'id': sessionId,
        'sequence': _sequence++,
        'at': _now(),
        'startedAt': _startedAt,
        'state': state,
        'durationMs': _used.elapsedMilliseconds,
        ..._context(),
        'flags': {..._flags},
        'attributes': {..._attributes},
        'screens': [
          for (final one in _screens.entries) {'name': one.key, 'visits': one.value},
        ],
        'requests': [for (final one in _requests.values) one.told],
        if (_tellsTrail) 'trail': [..._trail],
      };

  /// Whether the session is one of those that tell their trail: by its id, so that all of its items agree.
  bool get _tellsTrail => int.parse(sessionId.substring(0, 4), radix: 16) < (_options.sample['trail'] ?? 0.1) * 0x10000;

  Values _context() {
    Values told = const {};
    try {
      told = _options.circumstances?.call() ?? const {};
    } catch (_) {
      // What fails there costs that alone.
    }
    return {
      'version': _options.version,
      'build': _options.build,
      'buildType': _options.buildType,
      ...?_place?.circumstances,
      'installationId': installationId,
      'personId': _personId,
      'contact': _contact,
      ...told,
    };
  }

  /// One item under one name: complete, or not there.
  void _write(String kind, Values item) {
    final place = _place;
    if (place == null) return;
    Values? kept = item;
    try {
      final look = _options.beforeSend;
      if (look != null) kept = look(item);
      if (kept == null) return;
      final text = jsonEncode(kept, toEncodable: (value) => value is double ? null : '$value');
      if (_options.dryRun) return _tell('would send: $text');
      final waiting = place.waiting();
      for (final name in waiting.take(max(0, waiting.length - _mostFiles + 1))) {
        place.remove(name);
      }
      // Of a name that no other process of the app has, which may be writing at the same moment.
      place.write('${DateTime.now().microsecondsSinceEpoch}-${_uuid()}-$kind.item', text);
    } catch (problem) {
      // A full disk costs this item, and so does scrubbing that fails.
      _tell('could not keep an item: $problem');
    }
  }

  /// Sends what waits, batch by batch, until nothing waits or the server cannot be reached.
  Future<void> _send() async {
    final place = _place;
    if (place == null || _options.dryRun) return;
    try {
      for (final file in place.crashFiles()) {
        final answer = await place.post(Uri.parse('${_options.server}/intake/v1/file'), _headers('application/octet-stream'), file.bytes);
        if (!_isTaken(_look(answer))) return;
        file.remove();
      }
      var most = _batchFiles;
      for (var names = place.waiting(); names.isNotEmpty; names = place.waiting()) {
        final some = names.take(most).toList();
        final lines = [for (final name in some) place.read(name)].whereType<String>().join('\n');
        final answer = await place.post(Uri.parse('${_options.server}/intake/v1/batch'), _headers('application/x-ndjson'), utf8.encode(lines));
        final status = _look(answer);
        // Too large together: each goes alone, and what is too large alone is given up.
        if (status == 413 && some.length > 1) {
          most = 1;
          continue;
        }
        if (!_isTaken(status)) return;
        some.forEach(place.remove);
      }
    } catch (_) {
      // The server is away, or another process has sent them meanwhile: what is there stays.
    }
  }

  Map<String, String> _headers(String type) => {'authorization': 'Bearer ${_options.key}', 'content-type': type};

  static bool _isTaken(int status) => status == 202 || status == 400 || status == 413;

  /// The status of an answer; 0 where whoever answers is no server of ours, such as the page of a hotel. Says once why something was refused.
  int _look(EmberAnswer answer) {
    if (answer.status >= 400 && answer.status < 500 && answer.status != 429 && !_toldRefusal) {
      _toldRefusal = true;
      _tell('was refused something by its server (status ${answer.status}): ${_clip(answer.said, 2000)}');
    }
    final isOurs = answer.said.contains('"items"');
    return (answer.status == 202 || answer.status == 400) && !isOurs ? 0 : answer.status;
  }

  String _installation() {
    try {
      final known = _place?.read('installation');
      if (known != null && known.length == 36) return known;
      final made = _uuid();
      _place?.write('installation', made);
      return made;
    } catch (_) {
      // Every launch counts as an installation of its own then.
      return _uuid();
    }
  }

  static String _clip(String text, int characters) => text.length <= characters ? text : text.substring(0, characters);

  static String _now() => DateTime.now().toUtc().toIso8601String();

  static Random _chance() {
    try {
      return Random.secure();
    } on UnsupportedError {
      return Random();
    }
  }

  /// A random UUID (RFC 9562, section 5.4).
  static String _uuid() {
    final chance = _chance();
    final bytes = List<int>.generate(16, (_) => chance.nextInt(256));
    bytes[6] = (bytes[6] & 0x0f) | 0x40;
    bytes[8] = (bytes[8] & 0x3f) | 0x80;
    final text = bytes.map((byte) => byte.toRadixString(16).padLeft(2, '0')).join();
    return [text.substring(0, 8), text.substring(8, 12), text.substring(12, 16), text.substring(16, 20), text.substring(20)].join('-');
  }
}

/// How the requests of one kind went.
class _RequestCounts {
  _RequestCounts(this._method, this._host, this._path);

  final String _method;
  final String _host;
  final String _path;
  final Map<int, int> _durations = {};
  int _count = 0;
  int _failed = 0;

  void add(int? status, int durationMs) {
    _count++;
    if (status == null || status >= 400) _failed++;
    // Buckets from 2^(bucket/8) up to 2^((bucket+1)/8) milliseconds.
    final bucket = (8 * log(max(1, durationMs)) / ln2).ceil() - 1;
    final kept = min(239, max(0, bucket));
    _durations[kept] = (_durations[kept] ?? 0) + 1;
  }

  Values get told => {
        'method': _method,
        'host': _host,
        'path': _path,
        'count': _count,
        'failed': _failed,
        'durations': [
          for (final one in _durations.entries) {'bucket': one.key, 'count': one.value},
        ],
      };
}

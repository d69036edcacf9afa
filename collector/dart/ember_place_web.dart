import 'dart:convert';
import 'dart:js_interop';

/// What a server answered.
typedef EmberAnswer = ({int status, String said});

/// There is no native client beside a page.
class EmberCrashFile {
  List<int> get bytes => const [];
  void remove() {}
}

@JS('localStorage')
external _Storage get _storage;

extension type _Storage(JSObject _) implements JSObject {
  external int get length;
  external String? key(int index);
  external String? getItem(String name);
  external void setItem(String name, String text);
  external void removeItem(String name);
}

@JS('fetch')
external JSPromise<_Response> _fetch(String address, _Request request);

extension type _Request._(JSObject _) implements JSObject {
  external factory _Request({String method, JSAny headers, String body, bool keepalive});
}

extension type _Response(JSObject _) implements JSObject {
  external int get status;
  external JSPromise<JSString> text();
}

@JS('navigator.language')
external String? get _language;

EmberPlace openPlace(String folder) => EmberPlace('ember.$folder.');

/// Where items wait in a browser: its local storage.
class EmberPlace {
  EmberPlace(this._before);

  /// What its names begin with, so that they are nobody else's.
  final String _before;

  Map<String, Object?> get circumstances => {'locale': _language};

  /// The names of what waits, the oldest first.
  List<String> waiting() => [
        for (var at = 0; at < _storage.length; at++)
          if (_storage.key(at) case final String name when name.startsWith(_before) && name.endsWith('.item')) name.substring(_before.length),
      ]..sort();

  String? read(String name) => _storage.getItem('$_before$name');

  void write(String name, String text) => _storage.setItem('$_before$name', text);

  void remove(String name) => _storage.removeItem('$_before$name');

  Iterable<EmberCrashFile> crashFiles() => const [];

  Future<EmberAnswer> post(Uri address, Map<String, String> headers, List<int> body) async {
    final request = _Request(method: 'POST', headers: headers.jsify()!, body: utf8.decode(body), keepalive: body.length < 60000);
    final response = await _fetch('$address', request).toDart;
    return (status: response.status, said: (await response.text().toDart).toDart);
  }
}

import 'dart:ui';

import 'package:flutter/foundation.dart';
import 'package:flutter/widgets.dart';

import 'ember_reporter.dart';

/// Hears of what Flutter catches, of the app's coming and going, and of its screens.
///
///     void main() {
///       WidgetsFlutterBinding.ensureInitialized();
///       final reporter = EmberFlutter.install(EmberOptions(server: 'https://ember.example', key: 'intake_…', …));
///       runApp(GuideApp(observers: [EmberScreens(reporter)]));
///     }
class EmberFlutter with WidgetsBindingObserver {
  EmberFlutter._(this._reporter);

  final EmberReporter _reporter;

  static EmberReporter install(EmberOptions options) {
    final reporter = EmberReporter.install(options);
    final earlierError = FlutterError.onError;
    FlutterError.onError = (details) {
      // What the framework catches while it builds or draws costs a part of the screen; the app goes on.
      if (!details.silent) reporter.report(details.exception, details.stack);
      (earlierError ?? FlutterError.presentError)(details);
    };
    final earlierDispatch = PlatformDispatcher.instance.onError;
    PlatformDispatcher.instance.onError = (error, stack) {
      reporter.crash(error, stack);
      return earlierDispatch?.call(error, stack) ?? false;
    };
    WidgetsBinding.instance.addObserver(EmberFlutter._(reporter));
    return reporter;
  }

  @override
  void didChangeAppLifecycleState(AppLifecycleState state) {
    if (state == AppLifecycleState.resumed) _reporter.lifecycle('foreground');
    if (state == AppLifecycleState.paused) _reporter.lifecycle('background');
    if (state == AppLifecycleState.detached) _reporter.end();
  }

  @override
  void didHaveMemoryPressure() => _reporter.lifecycle('low-memory');
}

/// Notes the screens of a navigator by the names of their routes: `MaterialApp(navigatorObservers: [EmberScreens(reporter)])`.
class EmberScreens extends NavigatorObserver {
  EmberScreens(this._reporter);

  final EmberReporter _reporter;

  void _shows(Route<dynamic>? route) {
    final name = route?.settings.name;
    if (name != null) _reporter.screen(name);
  }

  @override
  void didPush(Route<dynamic> route, Route<dynamic>? previousRoute) => _shows(route);

  @override
  void didPop(Route<dynamic> route, Route<dynamic>? previousRoute) => _shows(previousRoute);

  @override
  void didReplace({Route<dynamic>? newRoute, Route<dynamic>? oldRoute}) => _shows(newRoute);
}

import type { PageShell } from '../shell/page-shell';

/** Where this server hands out a package, of its own version. */
export const downloadOf = (
  { serverAddress, serverVersion }: Pick<PageShell, 'serverAddress' | 'serverVersion'>,
  file:
    | 'rough-ember-collector.tgz'
    | 'rough-ember-cli.tgz'
    | 'EmberReporter.java'
    | 'EmberAndroid.java'
    | 'EmberReporter.cs'
    | 'EmberReporter.swift'
    | 'ember_reporter.dart'
    | 'ember_native.c',
): string => `${serverAddress}/downloads/${serverVersion}/${file}`;

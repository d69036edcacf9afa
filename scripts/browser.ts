import { type Browser, chromium } from 'playwright-core';
import { chromium as debianChromium, requireProgram } from './debian.ts';

/** Runs without a window and asks nothing of any network. */
export const browserArguments = [
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];

/** Starts Debian's Chromium without a window, installing it when it is not there; it asks nothing of any network. */
export function launchBrowser(): Promise<Browser> {
  const executablePath = requireProgram(debianChromium);
  return chromium.launch({
    executablePath,
    args: [...browserArguments],
  });
}

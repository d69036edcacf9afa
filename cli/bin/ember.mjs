#!/usr/bin/env node
// The command line from this checkout: built anew when its sources changed, and then run as the installed package is.
import { buildCommandLine } from '../../scripts/build/command-line.mjs';

await import(`${await buildCommandLine()}/ember.mjs`);

import type { AlertKind } from './alert-rule.ts';

/** What each kind of rule tells of, as one chooses it from a list. */
export const kindChoices: Readonly<Record<AlertKind, string>> = {
  'case-begins': 'a case begins',
  'case-returns': 'a closed case comes back',
  report: 'any report comes',
  'case-worse': 'a case gets surely worse',
  count: 'a count passes a bound',
  'crash-free': 'crash-free sessions are surely below the target',
  budget: 'the month will miss its target',
  version: 'a version must not go further',
  symbols: 'a symbol file is missing',
  silence: 'nothing comes any more',
  refusals: 'intake refuses more than usual',
  sheet: 'a week begins: the figures of a sheet',
};

/** What begins the first line of each kind. */
export const openings: Readonly<Record<AlertKind, string>> = {
  'case-begins': 'New',
  'case-returns': 'Came back',
  report: 'Reported',
  'case-worse': 'Getting worse',
  count: 'Passed its bound',
  'crash-free': 'Below target',
  budget: 'Budget',
  version: 'Must not go further',
  symbols: 'Symbol file missing',
  silence: 'Silent',
  refusals: 'Refused',
  sheet: 'Figures of the week',
};

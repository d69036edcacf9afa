/** What one sender with a public key may think of, and one with an upload token. */
export const attackNames = [
  'ten million lines in a small file',
  'ten million empty lines',
  'deep JSON',
  'wide JSON',
  'a million empty log records',
  'legal reports of twenty thousand frames by eight senders',
  'thousands of reports in each of four batches',
  'large crash files of nothing',
  'twenty bodies that unpack without end',
  'symbol files that say what they do not hold',
  'symbol files of millions of entries',
] as const;
export type AttackName = (typeof attackNames)[number];

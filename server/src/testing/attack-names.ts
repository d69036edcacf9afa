/** What one sender with a public key may think of. */
export const attackNames = [
  'ten million lines in a small file',
  'ten million empty lines',
  'deep JSON',
  'wide JSON',
  'a million empty log records',
  'legal reports of twenty thousand frames by eight senders',
  'five thousand reports in each of four batches',
  'large crash files of nothing',
  'twenty bodies that unpack without end',
] as const;
export type AttackName = (typeof attackNames)[number];

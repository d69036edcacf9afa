/** What can go wrong, in the words of the product: `crash` is fatal, `error` was handled and the app went on. */
export const reportKinds = ['crash', 'hang', 'kill', 'error'] as const;
export type ReportKind = (typeof reportKinds)[number];

/** Why a frame does not count for the case. */
export const skipRules = {
  outside: 'a library or system frame',
  'reports-trouble': 'only checks and throws',
  'compiler-made': 'made by the compiler',
  unnamed: 'no name that another build would print too',
  asynchronous: 'reached through an await, which not every engine tells',
  repeated: 'the same function again',
  'enough-frames': 'deeper than the frames that decide',
  rule: 'left out by a rule of the app',
} as const;
export type SkipRule = keyof typeof skipRules;

/** Something that keeps a command from doing its work; one line for standard error. */
export class CommandProblem extends Error {
  /** What the command ends with. */
  exitCode = 1;
}

/** A command that was called without what it needs. */
export class UsageProblem extends CommandProblem {
  override exitCode = 2;
}

/** Something that keeps a command from doing its work; one line for standard error. */
export class CommandProblem extends Error {}

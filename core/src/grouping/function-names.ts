import type { Runtime } from '../report/frames.ts';
import type { ReadableFrame } from '../symbolicate/readable-report.ts';
import { functionNames1 } from './function-names-1.ts';
import { functionNames2 } from './function-names-2.ts';

/** How the frames of one runtime are named for grouping and in titles. */
export interface FunctionNames {
  /** Equal for the same function in every build. */
  written(frame: ReadableFrame): string;
  /** Short form for titles. */
  short(frame: ReadableFrame): string;
  /** Made by a compiler, not by a person. */
  isCompilerMade(frame: ReadableFrame): boolean;
  /** Only reports trouble that its caller made. */
  reportsTrouble(frame: ReadableFrame): boolean;
  /** Has no name that another build or engine would print too. */
  isUnnamed?(frame: ReadableFrame): boolean;
  /** A library's code that was compiled into ours. */
  isLibrary?(frame: ReadableFrame): boolean;
  /** Does nothing but call the frame above it under the same name. */
  forwards?(frame: ReadableFrame, callee: ReadableFrame): boolean;
}

/** The ways of grouping there have been. A change of one is another number, and moves no case until somebody has seen what it does. */
export const algorithms = [1, 2] as const;
export type Algorithm = (typeof algorithms)[number];
/** The algorithm that new apps begin with. */
export const currentAlgorithm: Algorithm = 2;

const ofAlgorithm: Readonly<Record<Algorithm, Readonly<Record<Runtime, FunctionNames>>>> = { 1: functionNames1, 2: functionNames2 };

export const functionNames = (frame: ReadableFrame, algorithm: Algorithm = currentAlgorithm): FunctionNames =>
  ofAlgorithm[algorithm][frame.runtime];

import type { Frame } from '@rough-ember/core/report/frames';
import type { ReportedException } from '@rough-ember/core/report/report';
import { Random } from '../random.ts';
import { systems, thrown } from './outside-frames.ts';
import { exceptionOf, type ProgramBuild } from './program-build.ts';

/** A report whose cause is known, as a device would send it. */
export interface LabelledReport {
  readonly cause: number;
  /** The cause that this one differs from by nothing but the message, or the cause itself. */
  readonly causeByStack: number;
  readonly build: ProgramBuild;
  readonly exceptions: readonly ReportedException[];
  readonly osName: string;
  readonly osVersion: string;
}

/** What makes a cause what it is, whatever its reports look like. */
interface Cause {
  readonly number: number;
  readonly causeByStack: number | null;
  /** Calls of ours, innermost first: where it breaks and how one comes there. */
  readonly path: readonly string[];
  /** Another way to the same place; null when there is one way. */
  readonly otherPath: readonly string[] | null;
  readonly thrown: { readonly type: string; readonly message: string };
  readonly builds: readonly ProgramBuild[];
}

/** How alike causes are and how different their reports; shares of all causes. */
const mix = {
  /** Breaks elsewhere, by the same way: shares all callers with another cause. */
  sameCallers: 0.3,
  /** Breaks at the same place of the code, by another thing thrown. */
  samePlace: 0.15,
  /** The same place and the same thing thrown, told apart by nothing but the message. */
  sameButMessage: 0.02,
  /** Reached by two ways, which differ right above the place. */
  twoWays: 0.08,
} as const;

const messagesOfSamePlace = ['the first check failed for #', 'the second check failed for #'];

/**
 * Reports of known causes, from what real builds of the demo's programs print: the same cause in several builds, optimisation
 * levels, obfuscations and systems, different ones with much in common. Deterministic from the seed.
 */
export function labelledReports(
  builds: readonly ProgramBuild[],
  { causes: wantedCauses, reports, seed = 7 }: { causes: number; reports: number; seed?: number },
): LabelledReport[] {
  const random = new Random(seed);
  const causes = makeCauses(builds, wantedCauses, random);
  return Array.from({ length: reports }, (_, at) => {
    // Each cause has some; most reports are of few causes, as in life.
    const cause = causes[at < 2 * causes.length ? at % causes.length : Math.floor(random.next() ** 2 * causes.length)] as Cause;
    return makeReport(cause, random);
  });
}

const programOf = (build: ProgramBuild): string => build.name.replace(/ .* /, ' ');

function makeCauses(builds: readonly ProgramBuild[], wanted: number, random: Random): Cause[] {
  const programs = [...new Set(builds.map(programOf))].map((program) => builds.filter((build) => programOf(build) === program));
  const causes: Cause[] = [];
  const known = new Set<string>();
  for (let tries = 0; causes.length < wanted && tries < wanted * 200; tries++) {
    const program = programs[tries % programs.length] as ProgramBuild[];
    const earlier = causes.filter((cause) => cause.builds.some((build) => program.includes(build)));
    const drawn = drawCause(program, earlier, random);
    const able = drawn && program.filter((build) => canPrint(build, drawn.path) && (!drawn.otherPath || canPrint(build, drawn.otherPath)));
    if (!drawn || !able || able.length === 0) continue;
    // What breaks where is the cause; a way that another cause has already would be the same one under two names.
    const names = [drawn.path, ...(drawn.otherPath ? [drawn.otherPath] : [])].map((path) =>
      [...path.slice(0, fewestCalls).map(outside), drawn.thrown.type, drawn.thrown.message].join('\n'),
    );
    if (names.some((name) => known.has(name))) continue;
    for (const name of names) known.add(name);
    causes.push({ number: causes.length, ...drawn, builds: able });
  }
  return causes;
}

function drawCause(program: readonly ProgramBuild[], earlier: readonly Cause[], random: Random): Omit<Cause, 'number' | 'builds'> | null {
  const { runtime } = program[0] as ProgramBuild;
  const what = random.pick(thrown[runtime]);
  const other = earlier.length > 0 ? random.pick(earlier) : null;
  const kind = random.next();
  const path = drawPath(program, random);
  if (other && kind < mix.sameCallers) {
    const top = topOf(path);
    return top === other.path[0]
      ? null
      : { causeByStack: null, path: [top as string, ...other.path.slice(1)], otherPath: null, thrown: other.thrown };
  }
  if (other && kind < mix.sameCallers + mix.samePlace) return { causeByStack: null, path: other.path, otherPath: null, thrown: what };
  if (other && kind < mix.sameCallers + mix.samePlace + mix.sameButMessage)
    return {
      causeByStack: other.causeByStack ?? other.number,
      path: other.path,
      otherPath: null,
      thrown: { type: other.thrown.type, message: random.pick(messagesOfSamePlace) },
    };
  const second = kind > 1 - mix.twoWays ? [topOf(path) as string, ...drawPath(program, random)] : null;
  return { causeByStack: null, path, otherPath: second, thrown: what };
}

const topOf = (path: readonly string[]): string | undefined => path[0];

/** Calls of which the last few are always the same: what calls those may be anything. */
const fewestCalls = 3;

/** Code outside of functions calls, and is called by none. */
const isNoFunction = (name: string): boolean => /^(?:\(top level\)|_kDart\w+)$/.test(name);
/** A function and the callbacks written in it are one place to a developer. */
const outside = (name: string): string => name.replace(/(?:\.<anonymous(?: closure)?>)+$/, '');

/** Two to four stretches of calls that one of the builds prints, and more where those are short. */
function drawPath(program: readonly ProgramBuild[], random: Random): string[] {
  const build = random.pick(program);
  const stretches = [...build.stretches.values()];
  const path: string[] = [];
  const wanted = 2 + random.below(3);
  for (let count = 0; count < 12 && (count < wanted || path.length < fewestCalls); count++)
    for (const name of random.pick(stretches).functions)
      if (!isNoFunction(name) && !path.some((other) => outside(other) === outside(name))) path.push(name);
  return path;
}

/** The raw frames that a build prints for calls, the longest stretches first; null when it cannot. */
function printCalls(build: ProgramBuild, calls: readonly string[], random: Random): Frame[] | null {
  if (calls.length === 0) return [];
  for (let length = Math.min(6, calls.length); length > 0; length--) {
    const stretch = build.stretches.get(calls.slice(0, length).join('\n'));
    const rest = stretch && printCalls(build, calls.slice(length), random);
    if (stretch && rest) return [random.pick(stretch.frames), ...rest];
  }
  return null;
}

const canPrint = (build: ProgramBuild, calls: readonly string[]): boolean => printCalls(build, calls, new Random(1)) !== null;

function makeReport(cause: Cause, random: Random): LabelledReport {
  const build = random.pick(cause.builds);
  const system = random.pick(systems[build.runtime]);
  const path = cause.otherPath && random.next() < 0.3 ? cause.otherPath : cause.path;
  const ours = printCalls(build, path, random) as Frame[];
  const further = random.next() < 0.5 ? random.pick(random.pick([...build.stretches.values()]).frames.slice(0, 1)) : null;
  const place = Math.min(ours.length, 1 + random.below(3));
  const frames = [
    ...(random.next() < 0.5 ? system.above : []),
    ...ours.slice(0, place),
    ...(random.next() < 0.4 ? system.between : []),
    ...ours.slice(place),
    ...(further ? [further] : []),
    ...(random.next() < 0.8 ? system.below : []),
  ];
  const { type, message } = cause.thrown;
  const written = message.replace(/[#@]/g, (sign) => (sign === '#' ? String(random.below(9_000)) : random.uuid().slice(0, 8)));
  const exception = exceptionOf(frames, { type, message: written });
  return {
    cause: cause.number,
    causeByStack: cause.causeByStack ?? cause.number,
    build,
    exceptions: random.next() < 0.15 ? wrapped(exception, build) : [exception],
    osName: system.name,
    osVersion: system.version,
  };
}

/** Some systems report what was thrown as the cause of something of their own. */
function wrapped(exception: ReportedException, { runtime }: ProgramBuild): ReportedException[] {
  const wrapper = { jvm: 'java.lang.RuntimeException', dotnet: 'System.AggregateException' } as Partial<Record<Frame['runtime'], string>>;
  const type = wrapper[runtime];
  if (type === undefined) return [exception];
  const outer = exceptionOf(systems[runtime][0]?.below ?? [], { type, message: 'One or more errors occurred.' });
  return [outer, { ...exception, relation: 'cause', parent: 0 }];
}

import { type FoundReport, foundReport } from './found-report.ts';
import { FrameRoom, type GrowingStack, wordCutStacks } from './frame-room.ts';
import type { JvmFrame } from './frames.ts';
import { parseJvmFrame } from './jvm-frame.ts';
import { reportLimits } from './limits.ts';
import type { ReportedException, ReportedThread } from './report.ts';

/**
 * Reads what `java.lang.Throwable.printStackTrace` and the default uncaught-exception handler write.
 *
 * The text is a tree: `Caused by:` hangs on the exception of the same indentation, `Suppressed:` on the one a tab
 * to the left. `... n more` stands for the last n frames of that parent; they are filled in here, so that every
 * exception has its whole stack.
 */
export function readJvmStacks(lines: readonly string[]): FoundReport[] {
  const stacks: StackBuilder[] = [];
  let current: StackBuilder | null = null;
  /** Lines since the last frame: a header with the further lines of its message, or talk between two stacks. */
  let pending: string[] = [];

  for (const line of lines) {
    const announced = readAnnouncement(line);
    if (announced) {
      current = new StackBuilder(announced.thread, announced.header);
      stacks.push(current);
      pending = [];
      continue;
    }
    const relation = readRelation(line);
    if (relation && current) {
      current.begin(relation);
      continue;
    }
    const frame = readFrameLine(line);
    const omitted = /^\s*\.\.\. (\d{1,6}) (?:more|common frames omitted)\s*$/.exec(line);
    if (!frame && !omitted) {
      if (current?.takesMessage) current.continueMessage(line);
      else {
        if (current && line.trim() !== '') current = null;
        pending.push(line);
        if (pending.length > headerSearchLines) pending.shift();
      }
      continue;
    }
    if (!current) {
      const header = findHeader(pending);
      if (!header) {
        pending = [];
        continue;
      }
      current = new StackBuilder(null, header.first, header.further);
      stacks.push(current);
    }
    pending = [];
    if (frame) current.addFrame(frame);
    else if (omitted) current.addOmitted(Number(omitted[1]));
  }
  return stacks
    .filter((stack) => stack.hasFrames)
    .slice(0, crashesPerText)
    .map((stack) => stack.finish());
}

/** `Exception in thread "name" type: message`; name and message may hold quotation marks, a type holds none. */
function readAnnouncement(line: string): { thread: string; header: string } | null {
  const begun = /^\s*Exception in thread "/.exec(line)?.[0];
  if (begun === undefined) return null;
  let first: { thread: string; header: string } | null = null;
  for (let end = line.indexOf('" ', begun.length); end >= 0; end = line.indexOf('" ', end + 1)) {
    const found = { thread: line.slice(begun.length, end), header: line.slice(end + 2) };
    if (isHeader(found.header)) return found;
    first ??= found;
  }
  return first;
}

const headerSearchLines = 60;
const crashesPerText = 200;
const messageLines = 300;

interface Relation {
  readonly kind: 'cause' | 'suppressed';
  readonly depth: number;
  readonly header: string;
}

function readRelation(line: string): Relation | null {
  const match = /^(\s*)(Caused by|Suppressed): (.*)$/.exec(line);
  if (!match || !isHeader(match[3] as string)) return null;
  return {
    kind: match[2] === 'Caused by' ? 'cause' : 'suppressed',
    depth: (match[1] as string).length,
    header: match[3] as string,
  };
}

function readFrameLine(line: string): JvmFrame | null {
  if (coroutineBoundary.test(line)) return parseJvmFrame('_COROUTINE._BOUNDARY._(CoroutineDebugging.kt)');
  const match = /^\s*at (\S.*)$/.exec(line);
  return match ? parseJvmFrame((match[1] as string).trimEnd()) : null;
}

/** Older releases of the coroutine library mark where a recovered stack is joined by a frame without a class, of backspaces. */
const coroutineBoundary = /^\s*at [\u2408\s]*\(Coroutine boundary/;

/** A type name, alone or with a message behind ": ". */
const isHeader = (text: string): boolean => /^\[?[\p{L}_$][\p{L}\p{N}_$.-]*(:.*)?\s*$/u.test(text);
/** The same, but surely a type: it has a package, or is named like one. */
const isQualifiedHeader = (text: string): boolean =>
  /^[\p{L}_$][\p{L}\p{N}_$]*(\.[\p{L}_$][\p{L}\p{N}_$-]*)+(:.*)?\s*$/u.test(text) ||
  /^[\p{L}_$][\p{L}\p{N}_$]*(Exception|Error|Throwable)(:.*)?\s*$/u.test(text);

/** The header among the lines before a first frame: the first that names a type, else the line right above. */
function findHeader(lines: readonly string[]): { first: string; further: string[] } | null {
  const lastBlank = lines.findLastIndex((line) => line.trim() === '');
  const near = lines.slice(lastBlank + 1);
  let at = near.findIndex((line) => isQualifiedHeader(line.trim()));
  if (at < 0 && isHeader((near.at(-1) ?? '').trim())) at = near.length - 1;
  if (at < 0) return null;
  return { first: (near[at] as string).trim(), further: near.slice(at + 1) };
}

/** A qualified type and its message; "[CIRCULAR REFERENCE: …]" is kept as the message of what it repeats. */
function splitHeader(header: string): { type: string; message: string | null } {
  const circular = /^\[CIRCULAR REFERENCE: ?(.*)\]$/.exec(header.trim());
  const text = circular ? (circular[1] as string) : header.trimEnd();
  const colon = text.indexOf(':');
  const type = (colon < 0 ? text : text.slice(0, colon)).slice(0, reportLimits.nameCharacters) || 'unknown';
  return { type, message: colon < 0 ? null : text.slice(colon + 1).replace(/^ /, '') };
}

interface Node extends GrowingStack<JvmFrame> {
  readonly type: string;
  message: string[] | null;
  readonly relation: ReportedException['relation'];
  readonly parent: Node | null;
  readonly depth: number;
  framesInCommon: number;
  readonly children: Node[];
}

class StackBuilder {
  private readonly root: Node;
  private latest: Node;
  /** The end of the chain that is open at each indentation, leftmost first. */
  private readonly open: Node[];
  private exceptions = 1;
  private frames = 0;
  private readonly room = new FrameRoom();
  private readonly notes = new Set<string>();
  takesMessage = true;

  constructor(
    private readonly thread: string | null,
    header: string,
    furtherMessage: readonly string[] = [],
  ) {
    this.root = this.node(header, 'thrown', null, 0);
    this.latest = this.root;
    this.open = [this.root];
    for (const line of furtherMessage) this.continueMessage(line);
  }

  get hasFrames(): boolean {
    return this.frames > 0 || this.exceptions > 1 || this.thread !== null;
  }

  private node(header: string, relation: Node['relation'], parent: Node | null, depth: number): Node {
    const { type, message } = splitHeader(header);
    return { type, message: message === null ? null : [message], relation, parent, depth, frames: [], framesInCommon: 0, children: [] };
  }

  continueMessage(line: string): void {
    if (this.latest.message) {
      this.latest.message.push(line);
      this.takesMessage = this.latest.message.length < messageLines;
    } else if (line.trim() !== '') this.latest.message = [line];
  }

  begin({ kind, depth, header }: Relation): void {
    if (this.exceptions >= reportLimits.exceptions) {
      this.notes.add(`only the first ${reportLimits.exceptions} exceptions were kept`);
      return;
    }
    // A cause stands at the indentation of what it caused, a suppressed exception one step deeper.
    const deepest = kind === 'cause' ? depth : depth - 1;
    while (this.open.length > 1 && (this.open.at(-1) as Node).depth > deepest) this.open.pop();
    const parent = this.open.at(-1) ?? this.root;
    const node = this.node(header, kind, parent, kind === 'cause' ? parent.depth : depth);
    parent.children.push(node);
    if (kind === 'cause') this.open.pop();
    this.open.push(node);
    this.latest = node;
    this.exceptions++;
    this.takesMessage = true;
  }

  addFrame(frame: JvmFrame): void {
    this.takesMessage = false;
    this.frames++;
    if (!this.room.push(this.latest, frame)) this.notes.add(wordCutStacks);
  }

  addOmitted(count: number): void {
    this.takesMessage = false;
    const parent = this.latest.parent;
    if (!parent || this.latest.framesInCommon > 0) return;
    const shared = parent.frames.slice(Math.max(0, parent.frames.length - count));
    for (const frame of shared) this.addFrame(frame);
    this.latest.framesInCommon = Math.min(shared.length, this.latest.frames.length);
  }

  finish(): FoundReport {
    const ordered: Node[] = [];
    const suppressed: Node[] = [];
    const visitChain = (first: Node): void => {
      for (let node: Node | undefined = first; node; node = node.children.find((child) => child.relation === 'cause')) {
        ordered.push(node);
        suppressed.push(...node.children.filter((child) => child.relation === 'suppressed'));
      }
    };
    visitChain(this.root);
    for (let next = suppressed.shift(); next; next = suppressed.shift()) visitChain(next);

    return foundReport({
      format: 'jvm-stack',
      kind: 'crash',
      exceptions: ordered.map((node) => ({
        type: node.type,
        message: node.message?.join('\n').trimEnd().slice(0, reportLimits.messageCharacters) ?? null,
        relation: node.relation,
        parent: node.parent ? ordered.indexOf(node.parent) : null,
        frames: node.frames,
        framesInCommon: node.framesInCommon,
        ...(node.framesLeftOut && { framesLeftOut: node.framesLeftOut }),
        stack: null,
      })),
      threads: this.thread === null ? [] : [crashedThread(this.thread)],
      notes: [...this.notes],
    });
  }
}

/** The thread that threw; its stack is that of the exception. */
const crashedThread = (name: string): ReportedThread => ({
  name: name.slice(0, reportLimits.nameCharacters),
  id: null,
  crashed: true,
  state: null,
  waitsFor: null,
  frames: [],
  registers: {},
});

import { FrameRoom, type GrowingStack, wordCutStacks } from '../../frame-room.ts';
import type { JvmFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import type { ReportedException, ReportedThread } from '../../report.ts';
import { withWrittenLine } from '../../written-line.ts';
import { type FoundReport, foundReport } from '../found-report.ts';

/** `Caused by` or `Suppressed` with the header behind it. */
export interface StackRelation {
  readonly kind: 'cause' | 'suppressed';
  /** Characters that the line is indented by. */
  readonly depth: number;
  readonly header: string;
}

const messageLines = 300;
/** Lines that a message with a stack in it may be made of. */
const keptLines = 600;
const namesException = /[\p{L}\p{N}_$](?:Exception|Error|Throwable)(?![\p{L}\p{N}_$])/u;

/**
 * A type and its message. A `toString` of the exception's own may put its message in brackets, which are kept;
 * "[CIRCULAR REFERENCE: …]" is kept as the message of what it repeats.
 */
function splitHeader(header: string): { type: string; message: string | null } {
  const circular = /^\[CIRCULAR REFERENCE: ?(.*)\]$/.exec(header.trim());
  const text = circular ? (circular[1] as string) : header;
  const bracket = /^[\p{L}_$][\p{L}\p{N}_$.-]*(?=[({[])/u.exec(text)?.[0];
  const colon = text.indexOf(':');
  const end = bracket?.length ?? (colon < 0 ? text.trimEnd().length : colon);
  const type = text.slice(0, end).slice(0, reportLimits.nameCharacters) || 'unknown';
  const message = bracket !== undefined ? text.slice(end) : colon < 0 ? null : text.slice(colon + 1).replace(/^ /, '');
  return { type, message };
}

interface Node extends GrowingStack<JvmFrame> {
  readonly type: string;
  message: string[] | null;
  readonly relation: ReportedException['relation'];
  readonly parent: Node | null;
  readonly depth: number;
  framesInCommon: number;
  children: Node[];
  /** Where its lines begin among those of the whole stack. */
  readonly firstLine: number;
  /** The chain that was open when it had begun, itself at the end. */
  openThen: readonly Node[];
}

/** Collects the exceptions of one printed stack trace: a tree of causes and suppressed ones. */
export class JvmStackBuilder {
  private readonly root: Node;
  private latest: Node;
  /** The end of the chain that is open at each indentation, leftmost first. */
  private open: Node[];
  /** In the order of the text. */
  private nodes: Node[];
  private exceptions = 1;
  private frames = 0;
  private readonly room = new FrameRoom();
  private readonly notes = new Set<string>();
  /** The text as it came, as far as a message could hold it. */
  private readonly lines: string[] = [];
  /** No frame has come yet since the last header, so that whatever else comes belongs to its message. */
  takesMessage = true;

  constructor(
    private readonly thread: string | null,
    header: string,
    furtherMessage: readonly string[] = [],
    private readonly process: string | null = null,
  ) {
    this.lines.push(header);
    this.root = this.node(header, 'thrown', null, 0);
    this.latest = this.root;
    this.open = [this.root];
    this.root.openThen = [this.root];
    this.nodes = [this.root];
    for (const line of furtherMessage) this.continueMessage(line);
  }

  get hasFrames(): boolean {
    return this.frames > 0 || this.exceptions > 1 || this.thread !== null;
  }

  private node(header: string, relation: Node['relation'], parent: Node | null, depth: number): Node {
    const { type, message } = splitHeader(header);
    return {
      type,
      message: message === null ? null : [message],
      relation,
      parent,
      depth,
      frames: [],
      framesInCommon: 0,
      children: [],
      firstLine: this.lines.length - 1,
      openThen: [],
    };
  }

  /** `... n more` says something only behind a cause or a suppressed exception. */
  get mayOmit(): boolean {
    return this.latest.parent !== null;
  }

  private keep(line: string): void {
    if (this.lines.length < keptLines) this.lines.push(line);
  }

  /**
   * Frames that come behind other lines are those of the exception whose message quoted a whole stack: what was read since that
   * exception's header becomes its message, and its own frames follow.
   */
  takeAsMessage(between: readonly string[]): void {
    if (this.lines.length >= keptLines) return;
    // A quoted cause is part of the same message: its exception is the one whose own message names another.
    const holder = this.nodes.findLast((node) => namesException.test(node.message?.[0] ?? '')) ?? this.latest;
    const [ownLine = ''] = holder.message ?? [];
    for (const line of between) this.keep(line);
    holder.message = [ownLine, ...this.lines.slice(holder.firstLine + 1)].slice(0, messageLines);
    holder.frames.length = 0;
    holder.framesLeftOut = undefined;
    holder.framesInCommon = 0;
    const { firstLine } = holder;
    const isOlder = (node: Node) => node.firstLine <= firstLine;
    for (const node of this.nodes) node.children = node.children.filter(isOlder);
    this.nodes = this.nodes.filter(isOlder);
    this.open = [...holder.openThen];
    this.latest = holder;
  }

  continueMessage(line: string): void {
    this.keep(line);
    if (this.latest.message) {
      this.latest.message.push(line);
      this.takesMessage = this.latest.message.length < messageLines;
    } else if (line.trim() !== '') this.latest.message = [line];
  }

  begin({ kind, depth, header }: StackRelation, line: string): void {
    this.keep(line);
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
    this.nodes.push(node);
    if (kind === 'cause') this.open.pop();
    this.open.push(node);
    node.openThen = [...this.open];
    this.latest = node;
    this.exceptions++;
    this.takesMessage = true;
  }

  addFrame(frame: JvmFrame, line: string): void {
    this.keep(line);
    this.push(withWrittenLine(frame, line));
  }

  private push(frame: JvmFrame): void {
    this.takesMessage = false;
    this.frames++;
    if (!this.room.push(this.latest, frame)) this.notes.add(wordCutStacks);
  }

  addOmitted(count: number, line: string): void {
    this.keep(line);
    this.takesMessage = false;
    const parent = this.latest.parent;
    if (!parent || this.latest.framesInCommon > 0) return;
    const shared = parent.frames.slice(Math.max(0, parent.frames.length - count));
    for (const frame of shared) this.push(frame);
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
      process: this.process,
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

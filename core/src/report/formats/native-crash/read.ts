import type { NativeFrame } from '../../frames.ts';
import { type Attributes, reportLimits } from '../../limits.ts';
import type { LoadedImage } from '../../report.ts';
import type { TrailEvent } from '../../trail.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundDevice, foundReport } from '../found-report.ts';
import { nativeFrame } from '../tombstone-frame.ts';
import { nativeSignal } from '../tombstone-text/read.ts';

const magic = new TextEncoder().encode('ember-crash ');

/** Whether a file is one that the native client wrote (docs/native-crash.md). */
export const isNativeCrash = (bytes: Uint8Array): boolean => magic.every((byte, at) => bytes[at] === byte);

/** The file has room that was prepared beforehand: zeros follow where the process ended while it was written. */
function writtenText(bytes: Uint8Array): { text: string; isWhole: boolean } {
  let end = bytes.indexOf(0);
  if (end < 0) end = bytes.length;
  // A line that does not end may have lost what it is about.
  const lastLine = bytes.subarray(0, end).lastIndexOf(10);
  const text = new TextDecoder('utf-8').decode(bytes.subarray(0, lastLine + 1));
  return { text, isWhole: /\nend\n$/.test(text) };
}

/** An image, and where its code lies in the process: `bias` is what the linker's addresses are moved by. */
interface PlacedImage {
  readonly start: bigint;
  readonly end: bigint;
  readonly bias: bigint;
  readonly fileOffset: bigint;
  readonly symbolId: string | null;
  readonly path: string;
}

interface WrittenThread {
  readonly id: number;
  readonly name: string;
  readonly crashed: boolean;
  readonly registers: Record<string, string>;
  /** By frame pointers, which never fail; and by the unwinder, which knows more. */
  readonly pointers: bigint[];
  readonly unwound: bigint[];
  beyond: number;
  isUnanswered: boolean;
}

/** What the lines of a file say. */
class CrashText {
  readonly single = new Map<string, string>();
  readonly values = new Map<string, string>();
  readonly threads: WrittenThread[] = [];
  readonly images: PlacedImage[] = [];
  readonly trail: TrailEvent[] = [];
  exception: { type: string; message: string | null } | null = null;
  isBroken = false;
  crashed: WrittenThread | null = null;
  private addresses = 0;

  private readonly lines = new Map<string, (rest: string) => void>([
    ['crashed', (rest) => this.beginThread(rest, true)],
    ['thread', (rest) => this.beginThread(rest, false)],
    ['register', (rest) => this.takeRegister(rest)],
    ['pointer', (rest) => this.takeAddress(this.threads.at(-1)?.pointers, rest)],
    ['unwound', (rest) => this.takeAddress(this.crashed?.unwound, rest)],
    ['frame', (rest) => this.takeAddress(this.threads.at(-1)?.unwound, rest)],
    ['beyond', (rest) => this.takeBeyond(rest)],
    ['unanswered', () => this.takeSilence()],
    ['image', (rest) => this.takeImage(rest)],
    ['exception', (rest) => this.takeException(rest)],
    ['value', (rest) => this.takeValue(rest)],
    ['trail', (rest) => this.takeEvent(rest)],
  ]);

  take(line: string): void {
    const [word, rest] = split(line);
    const read = this.lines.get(word);
    if (read) read(rest);
    else if (word === 'broken') this.isBroken = true;
    else if (!this.single.has(word) && this.single.size < 50) this.single.set(word, unescaped(rest));
  }

  private beginThread(rest: string, crashed: boolean): void {
    if (this.threads.length >= reportLimits.threads) return;
    const [id, name] = split(rest);
    const thread: WrittenThread = {
      id: Number(/^\d{1,10}$/.exec(id)?.[0] ?? 0),
      name: unescaped(name),
      crashed,
      registers: {},
      pointers: [],
      unwound: [],
      beyond: 0,
      isUnanswered: false,
    };
    this.threads.push(thread);
    if (crashed) this.crashed ??= thread;
  }

  private takeAddress(frames: bigint[] | undefined, text: string): void {
    const address = hexadecimal(text);
    if (!frames || address === null || frames.length >= reportLimits.framesPerStack || this.addresses >= reportLimits.frames) return;
    frames.push(address);
    this.addresses++;
  }

  private takeRegister(rest: string): void {
    const registers = this.threads.at(-1)?.registers;
    const [name, value] = split(rest);
    if (!registers || !/^[a-z]\w{0,7}$/.test(name) || hexadecimal(value) === null) return;
    if (Object.keys(registers).length < reportLimits.registers) registers[name] = value;
  }

  private takeBeyond(rest: string): void {
    const thread = this.threads.at(-1);
    if (thread) thread.beyond = Math.max(thread.beyond, Number(/^\d{1,9}$/.exec(rest)?.[0] ?? 0));
  }

  private takeSilence(): void {
    const thread = this.threads.at(-1);
    if (thread) thread.isUnanswered = true;
  }

  /** `start end bias offset build-id path` */
  private takeImage(rest: string): void {
    const [, ...numbers] =
      /^(0x[0-9a-f]{1,16}) (0x[0-9a-f]{1,16}) (0x[0-9a-f]{1,16}) (0x[0-9a-f]{1,16}) (-|[0-9a-f]{2,128}) (.*)$/.exec(rest) ?? [];
    const [start, end, bias, fileOffset, id, path] = numbers;
    if (path === undefined || this.images.length >= reportLimits.images) return;
    this.images.push({
      start: BigInt(start as string),
      end: BigInt(end as string),
      bias: BigInt(bias as string),
      fileOffset: BigInt(fileOffset as string),
      symbolId: id === '-' ? null : (id as string),
      path: unescaped(path).slice(0, reportLimits.nameCharacters),
    });
  }

  private takeException(rest: string): void {
    const [type, message] = split(rest);
    this.exception ??= { type: type === '?' ? 'C++ exception' : unescaped(type), message: unescaped(message) || null };
  }

  private takeValue(rest: string): void {
    const [name, value] = split(rest);
    if (this.values.size < reportLimits.attributes) this.values.set(unescaped(name), unescaped(value));
  }

  /** Events are put right with the report that they belong to. */
  private takeEvent(rest: string): void {
    try {
      const event: unknown = JSON.parse(unescaped(rest));
      if (typeof event === 'object' && event !== null && this.trail.length < reportLimits.trailEvents) this.trail.push(event as TrailEvent);
    } catch {
      // What the app said in another form says nothing.
    }
  }
}

/** A word and the rest of its line. */
function split(line: string): [string, string] {
  const at = line.indexOf(' ');
  return at < 0 ? [line, ''] : [line.slice(0, at), line.slice(at + 1)];
}

const unescaped = (text: string): string =>
  text.replace(/%([0-9A-F]{2})/g, (_, digits: string) => String.fromCharCode(Number.parseInt(digits, 16)));

const hexadecimal = (text: string): bigint | null => (/^0x[0-9a-f]{1,16}$/.test(text) ? BigInt(text) : null);

/** Reads what the native client wrote when its process crashed; a file that was cut off tells what it tells. */
export function readNativeCrash(bytes: Uint8Array): FoundReport {
  const { text, isWhole } = writtenText(bytes);
  const told = new CrashText();
  for (const line of text.split('\n')) if (line !== '') told.take(line);
  const chain = new ChainBuilder();
  const kind = told.single.get('kind') === 'error' ? ('error' as const) : ('crash' as const);
  const signal = signalOf(told.single.get('signal'));
  const first = chain.begin(told.exception ?? signal ?? { type: kind, message: null });
  const imageAt = imageFinder(told.images);
  for (const frame of framesOf(told.crashed, imageAt)) chain.frame(first, frame);
  for (const thread of told.threads) {
    const { id, name, crashed: isCrashed, registers } = thread;
    const about = { name: name || `Thread ${id}`, id, crashed: isCrashed, state: null, waitsFor: null, registers };
    chain.thread(about, isCrashed ? [] : framesOf(thread, imageAt));
  }
  noteGaps(chain, told, isWhole);
  const time = Number(told.single.get('time'));
  return foundReport({
    format: 'native-crash',
    kind,
    id: /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/.exec(told.single.get('id') ?? '')?.[0] ?? null,
    occurredAt: time > 0 && time < Date.UTC(2200, 0, 1) ? new Date(time).toISOString() : null,
    version: told.single.get('version') ?? null,
    build: told.single.get('build') ?? null,
    ...circumstancesOf(told.values),
    exceptions: chain.exceptions,
    threads: chain.threads,
    images: told.images.map(loadedImage),
    trail: told.trail,
    attributes: {
      ...(told.single.has('machine') ? { 'process.architecture': told.single.get('machine') as string } : {}),
      ...(told.exception && signal ? { 'process.signal': signal.type } : {}),
      ...attributesOf(told.values),
    },
    notes: chain.notes,
  });
}

/** `11 SIGSEGV 1 SEGV_MAPERR 0x8` */
function signalOf(text: string | undefined): { type: string; message: string | null } | null {
  const [, name, code, address] = /^-?\d+ (\w+) -?\d+ (\w+|-) (0x[0-9a-f]+)$/.exec(text ?? '') ?? [];
  if (name === undefined) return null;
  const isSent = code?.startsWith('SI_') || code === '-';
  return nativeSignal({
    name,
    code: isSent ? '' : (code as string),
    address: isSent ? null : (address as string),
    abort: null,
    causes: [],
  });
}

type ImageFinder = (address: bigint) => PlacedImage | null;

/** Finds the image that an address lies in, by halving. */
function imageFinder(images: readonly PlacedImage[]): ImageFinder {
  const sorted = [...images].sort((a, b) => (a.start < b.start ? -1 : a.start > b.start ? 1 : 0));
  return (address) => {
    let [low, high] = [0, sorted.length];
    while (low < high) {
      const middle = (low + high) >>> 1;
      if ((sorted[middle] as PlacedImage).start <= address) low = middle + 1;
      else high = middle;
    }
    const image = sorted[low - 1];
    return image && address < image.end ? image : null;
  };
}

/** The first frame is where a thread was; the others are where their calls return to. */
function framesOf(thread: WrittenThread | null, imageAt: ImageFinder): NativeFrame[] {
  if (!thread) return [];
  const addresses = thread.unwound.length > 1 ? thread.unwound : thread.pointers.length > 0 ? thread.pointers : thread.unwound;
  return addresses.map((address, at) => {
    const image = imageAt(address);
    return nativeFrame({
      address: printed(address),
      pointsAt: at === 0 ? 'instruction' : 'after-call',
      ...(image && {
        image: image.path,
        symbolId: image.symbolId,
        imageAddress: printed(address - image.bias),
        fileOffset: image.fileOffset > 0n ? printed(image.fileOffset) : null,
      }),
    });
  });
}

const printed = (address: bigint): string => `0x${BigInt.asUintN(64, address).toString(16)}`;

const loadedImage = ({ path, symbolId, start, end }: PlacedImage): LoadedImage => ({
  name: path,
  symbolId,
  architecture: null,
  loadAddress: printed(start),
  sizeBytes: Number(end > start ? end - start : 0n),
});

const ids = ['installationId', 'personId', 'sessionId'] as const;

/** What the app said beforehand of its build, its device and whom it belongs to. */
function circumstancesOf(values: ReadonlyMap<string, string>): Partial<FoundReport> {
  const model = values.get('deviceModel');
  const osName = values.get('osName');
  const flags = [...values].flatMap(([name, value]) => (name.startsWith('flag.') ? [[name.slice('flag.'.length), value] as const] : []));
  return {
    os: osName === undefined ? null : { name: osName, version: values.get('osVersion') ?? '', build: null },
    device: model === undefined ? null : foundDevice({ model, manufacturer: values.get('deviceManufacturer') ?? null }),
    ...(values.has('buildType') && { buildType: values.get('buildType') as string }),
    ...Object.fromEntries(ids.flatMap((name) => (values.has(name) ? [[name, values.get(name) as string]] : []))),
    ...(flags.length > 0 && { flags: Object.fromEntries(flags) }),
  };
}

const attributesOf = (values: ReadonlyMap<string, string>): Attributes =>
  Object.fromEntries(
    [...values].flatMap(([name, value]) => (name.startsWith('attribute.') ? [[name.slice('attribute.'.length), value]] : [])),
  );

function noteGaps(chain: ChainBuilder, told: CrashText, isWhole: boolean): void {
  if (!isWhole) chain.note('the process ended while the file was written; what follows is missing');
  if (told.isBroken) chain.note('telling the crash crashed itself; what was written until then is here');
  const beyond = told.crashed?.beyond ?? 0;
  if (beyond > 0) chain.note(`${beyond} outermost frames of the crashed thread were left out`);
  const unanswered = told.threads.filter((one) => one.isUnanswered).length;
  if (unanswered > 0)
    chain.note(`${unanswered === 1 ? '1 thread' : `${unanswered} threads`} did not say where ${unanswered === 1 ? 'it is' : 'they are'}`);
}

import { describe, expect, it } from 'vitest';
import { attachmentItemSchema } from './attachment.ts';
import { ChainBuilder } from './formats/chain-builder.ts';
import { wordCutStacks } from './frame-room.ts';
import type { JvmFrame } from './frames.ts';
import { attributesSchema, buildName, flagsSchema, hexadecimal, reportLimits } from './limits.ts';

const frame = (method = 'b'): JvmFrame => ({
  runtime: 'jvm',
  class: 'com.larkfield.A',
  method,
  module: null,
  file: 'A.java',
  line: 1,
  native: false,
});
const thread = (name: string) => ({ name, id: null, crashed: false, state: null, waitsFor: null, registers: {} });

describe('a chain of exceptions', () => {
  it('ends at the most that a report may have, and notes it once', () => {
    const chain = new ChainBuilder();
    const given = Array.from({ length: reportLimits.exceptions + 3 }, (_, at) => chain.begin({ type: `A${at}`, message: null }));
    expect(given.slice(-4)).toEqual([reportLimits.exceptions - 1, null, null, null]);
    chain.frame(null, frame());
    expect(chain.exceptions).toHaveLength(reportLimits.exceptions);
    expect(chain.notes).toEqual([`exceptions beyond ${reportLimits.exceptions} were left out`]);
  });

  it('takes so many frames of a stack, and so many of all stacks', () => {
    const chain = new ChainBuilder();
    for (let stack = 0; stack < 11; stack++) {
      const exception = chain.begin({ type: 'A', message: null });
      for (let at = 0; at < reportLimits.framesPerStack; at++) chain.frame(exception, frame());
      expect(chain.notes).toEqual(stack < 10 ? [] : [wordCutStacks]);
    }
    expect(chain.exceptions.map(({ frames }) => frames.length)).toEqual([...Array(10).fill(reportLimits.framesPerStack), 0]);
    expect(chain.exceptions[10]?.framesLeftOut).toEqual({ after: 0, count: reportLimits.framesPerStack });
  });

  it('keeps both ends of a stack that is too long, and how long it was', () => {
    const chain = new ChainBuilder();
    chain.thread(
      thread('main'),
      (function* () {
        for (let at = 0; at < 10_000; at++) yield frame(`m${at}`);
      })(),
    );
    const [main] = chain.threads;
    expect(main?.framesLeftOut).toEqual({ after: 1_000, count: 8_000 });
    expect([0, 999, 1_000, 1_999].map((at) => (main?.frames[at] as JvmFrame | undefined)?.method)).toEqual([
      'm0',
      'm999',
      'm9000',
      'm9999',
    ]);
  });

  it('takes no thread too many', () => {
    const chain = new ChainBuilder();
    for (let at = 0; at <= reportLimits.threads; at++) chain.thread(thread(`worker ${at}`), []);
    expect(chain.threads).toHaveLength(reportLimits.threads);
    expect(chain.notes.at(-1)).toBe(`threads beyond ${reportLimits.threads} were left out`);
  });

  it('cuts what is too long and prints what cannot be seen', () => {
    const chain = new ChainBuilder();
    const long = 'n'.repeat(reportLimits.nameCharacters + 1);
    const first = chain.begin({ type: long, message: 'm'.repeat(reportLimits.messageCharacters + 1) });
    chain.begin({ type: '', message: 'a\u0000b' });
    chain.frame(first, frame(long));
    const plain = frame();
    chain.frame(first, plain);
    chain.thread(thread(long), []);
    const [one, two] = chain.exceptions;
    expect([one?.type.length, one?.message?.length]).toEqual([reportLimits.nameCharacters, reportLimits.messageCharacters]);
    expect(two?.type).toBe('unknown');
    expect(two?.message).not.toContain('\u0000');
    expect(one?.frames[0]).toMatchObject({ method: 'n'.repeat(reportLimits.nameCharacters), file: 'A.java', line: 1 });
    expect(one?.frames[1]).toBe(plain);
    expect(chain.threads[0]?.name).toHaveLength(reportLimits.nameCharacters);
  });
});

describe('an attachment', () => {
  const id = '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6';
  const png = Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]).toString('base64');
  const problemsOf = (more: object) => {
    const parsed = attachmentItemSchema.safeParse({
      id,
      reportId: id,
      kind: 'screenshot',
      name: 'screen',
      mediaType: 'image/png',
      data: png,
      ...more,
    });
    return parsed.success ? [] : parsed.error.issues.map(({ path, message }) => `${path.join('.')}: ${message}`);
  };

  it.each<[more: object, problems: (string | RegExp)[]]>([
    [{}, []],
    [{ kind: 'log', mediaType: 'text/plain' }, []],
    [{ kind: 'view-hierarchy', mediaType: 'application/json' }, []],
    [{ mediaType: 'image/jpeg', data: Buffer.from([0xff, 0xd8, 0xff, 0xe0]).toString('base64') }, []],
    [{ mediaType: 'image/jpeg' }, ['data: does not begin like image/jpeg']],
    [{ data: Buffer.from('<svg/>').toString('base64') }, ['data: does not begin like image/png']],
    [{ mediaType: 'image/svg+xml' }, ['mediaType: must be image/png or image/jpeg for a screenshot']],
    [{ kind: 'log', mediaType: 'text/html' }, ['mediaType: must be text/plain for a log']],
    [{ kind: 'program' }, [/^kind: /]],
    [{ name: '' }, [/^name: /]],
    [{ data: 'not base64!' }, [/^data: /, 'data: does not begin like image/png']],
    [{ id: 'one' }, [/^id: /]],
  ])('with %j', (more, problems) => {
    const found = problemsOf(more);
    expect(found).toHaveLength(problems.length);
    problems.forEach((problem, at) => {
      expect(found[at]).toMatch(problem instanceof RegExp ? problem : new RegExp(`^${problem.replace(/[.*+?^${}()|[\]\\]/g, '\\$&')}$`));
    });
  });

  it('holds no more bytes than it may', () => {
    const of = (bytes: number) => problemsOf({ kind: 'log', mediaType: 'text/plain', data: Buffer.alloc(bytes).toString('base64') });
    expect(of(2 * 1024 * 1024)).toEqual([]);
    expect(of(2 * 1024 * 1024 + 2)).toEqual([`data: holds more than ${2 * 1024 * 1024} bytes`]);
  });
});

describe('names and values', () => {
  const many = (count: number) => Object.fromEntries(Array.from({ length: count }, (_, at) => [`name ${at}`, 'x']));

  it('of attributes and flags are so many', () => {
    expect(attributesSchema.safeParse(many(100)).success).toBe(true);
    expect(attributesSchema.safeParse(many(101)).error?.issues[0]?.message).toBe('at most 100, found 101');
    expect(flagsSchema.safeParse(many(200)).success).toBe(true);
    expect(flagsSchema.safeParse(many(201)).error?.issues[0]?.message).toBe('at most 200, found 201');
  });

  it.each([
    ['a text', 'map', true],
    ['a number', 12.5, true],
    ['a list of both', ['map', 1, true], true],
    ['a list that is too long', Array(101).fill('x'), false],
    ['a text that is too long', 'x'.repeat(4_097), false],
    ['an object', { depth: 1 }, false],
    ['a list within a list', [['x']], false],
    ['nothing', null, false],
  ])('of an attribute may be %s: %#', (_, value, fits) => expect(attributesSchema.safeParse({ layer: value }).success).toBe(fits));

  it.each([
    [' 4.3.0 ', '4.3.0'],
    ['4.3.0 (beta)', '4.3.0 (beta)'],
    ['', null],
    ['4\n3', null],
    ['\u200b', null],
    ['4'.repeat(101), null],
  ])('of a build %j are %j', (text, name) => {
    const parsed = buildName.safeParse(text);
    expect(parsed.success ? parsed.data : null).toBe(name);
  });

  it.each([
    ['0x7f00a1b2', true],
    ['0xffffffffffffffff', true],
    ['0x10000000000000000', false],
    ['7f', false],
    ['0xFF', false],
    ['0x', false],
  ])('of an address: %s %s', (text, fits) => expect(hexadecimal.safeParse(text).success).toBe(fits));
});

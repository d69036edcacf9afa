import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ReadableFrame, ReadableReport } from '../../symbolicate/readable-report.ts';
import { readableFrame } from '../../symbolicate/testing/readable-frame.ts';
import { currentAlgorithm } from '../function-names.ts';
import { bareContext, type Grouping, type GroupingContext, groupReport } from '../group-report.ts';
import { ruleSet } from './apply-rules.ts';
import { compareGroups, type RegroupedPart } from './compare-groups.ts';
import { patternTest } from './grouping-rules.ts';
import { algorithmLineOf, parseRules, withAlgorithm } from './parse-rules.ts';

const frame = (name: string, more: Partial<ReadableFrame> = {}) =>
  readableFrame(name, { file: `${name.split('.').at(-2)}.kt`, line: 12, ours: name.startsWith('com.larkfield'), ...more });

const report = (frames: readonly string[], { type = 'java.lang.IllegalStateException', message = 'no perch 12' } = {}): ReadableReport => ({
  exceptions: [{ type, message, relation: 'thrown', parent: null, frames: frames.map((name) => frame(name)), framesInCommon: 0 }],
  threads: [],
  needs: [],
});

function group(rules: string, readable: ReadableReport, context: Partial<GroupingContext> = {}): Grouping {
  const parsed = parseRules(rules);
  if (!parsed.ok) throw new Error(`${parsed.problem.line}: ${parsed.problem.message}`);
  return groupReport({ ...bareContext('crash'), ...context }, readable, ruleSet(parsed.value));
}

const stack = [
  'com.larkfield.Require.notNull',
  'com.larkfield.Tiles.get',
  'com.vendor.Map.draw',
  'com.larkfield.Guide.run',
  'com.larkfield.Main.main',
];
const kept = (rules: string) => group(rules, report(stack)).explanation.kept.map((one) => one.function.split('.').slice(-2).join('.'));

describe('rules of an app', () => {
  it('say which frames are ours', () => {
    expect(kept('')).toEqual(['Tiles.get', 'Guide.run', 'Main.main']);
    expect(kept('ours function com.vendor.*')).toEqual(['Tiles.get', 'Map.draw', 'Guide.run']);
    expect(kept('outside file Tiles.kt')).toEqual(['Guide.run', 'Main.main']);
    // The first rule that fits decides.
    expect(kept('ours function com.vendor.Map.*\noutside function com.*')).toEqual(['Map.draw']);
  });

  it('say it of a whole library too', () => {
    const native = (name: string, image: string) => frame(name, { runtime: 'native', file: null, image, ours: true });
    const readable = report([]);
    const frames = [native('codec_reset', 'libvendor.so'), native('lark::listen', 'libsong.so'), frame('com.larkfield.Main.main')];
    const stacked = { ...readable, exceptions: readable.exceptions.map((one) => ({ ...one, frames })) };
    const first = (rules: string) => group(rules, stacked).explanation.kept[0]?.function;
    expect(first('')).toBe('codec_reset');
    expect(first('outside image libvendor.so')).toBe('lark::listen');
    expect(first('ours image libsong.so\noutside image *.so')).toBe('lark::listen');
  });

  it('skip frames, and stop at one', () => {
    expect(kept('skip function *.Tiles.*')).toEqual(['Guide.run', 'Main.main']);
    expect(kept('stop function *.Guide.run')).toEqual(['Tiles.get']);
  });

  it('name the algorithm, which is the latest when they do not', () => {
    const moved = report(['com.larkfield.Desk$$Lambda$3.run', 'com.larkfield.Desk.open']);
    const first = (rules: string) => group(rules, moved).explanation.kept[0]?.function;
    expect([first('algorithm 1'), first('algorithm 2'), first('')]).toEqual([
      'com.larkfield.Desk.run',
      'com.larkfield.Desk.open',
      'com.larkfield.Desk.open',
    ]);
    expect(group('algorithm 1', report(stack)).explanation.algorithm).toBe(1);
    expect(group('', report(stack)).explanation.algorithm).toBe(currentAlgorithm);
    const own = '# ours\nskip function a\n  algorithm 1\nskip function b';
    expect(algorithmLineOf(own)).toBe('algorithm 1');
    expect(withAlgorithm(own, 2)).toBe('# ours\nskip function a\nalgorithm 2\nskip function b');
    expect(withAlgorithm('skip function a\n', 2)).toBe('skip function a\nalgorithm 2');
    expect([algorithmLineOf('skip function algorithm'), withAlgorithm('', 1)]).toEqual(['', 'algorithm 1']);
  });

  it('are told in the explanation, with their lines', () => {
    const { explanation } = group('# what the guide does\n\nskip function *.Tiles.*\noutside function com.vendor.*', report(stack));
    expect(explanation.ruleLines).toEqual([3, 4]);
    expect(explanation.skipped).toContainEqual({ frame: 1, rule: 'rule', line: 3 });
  });

  it('group by message', () => {
    const rule = 'message type *.IllegalStateException message "no perch*"';
    const one = group(rule, report(stack));
    expect(one.explanation.basis).toBe('message');
    expect(group(rule, report(['com.larkfield.Else.where'], { message: 'no perch 4711' })).key).toBe(one.key);
    expect(group(rule, report(stack, { message: 'other' })).key).not.toBe(one.key);
  });

  it('join whatever fits', () => {
    const rule = 'join "out of tiles" function *.Tiles.* kind crash';
    const one = group(rule, report(stack));
    expect(one).toMatchObject({ where: 'out of tiles', explanation: { basis: 'joined' } });
    expect(group(rule, report(['com.larkfield.Tiles.put'], { type: 'java.io.IOException' })).key).toBe(one.key);
    expect(group(rule, report(stack), { kind: 'error' }).key).not.toBe(one.key);
  });

  it('keep apart by an attribute or a flag', () => {
    const rule = 'apart attribute tenant\napart flag night-map';
    const of = (tenant: string | string[], variant?: string) =>
      group(rule, report(stack), { attributes: { tenant }, flags: variant === undefined ? {} : { 'night-map': variant } });
    expect(of('north').key).not.toBe(of('south').key);
    expect(of('north', 'on').key).not.toBe(of('north', 'off').key);
    expect(of(['b', 'a']).key).toBe(of(['a', 'b']).key);
    expect(of('north').explanation.apart).toEqual(['attribute tenant = north', 'flag night-map = not told']);
  });

  it.each([
    ['hide function a', 1, '"hide" is no rule; a line begins with ours, outside, skip, stop, message, apart, join, algorithm'],
    ['\nours', 2, 'say what it is about: function PATTERN, file PATTERN, image PATTERN'],
    ['skip type a', 1, '"type" cannot be asked here; there is function, file, image'],
    ['skip function', 1, 'a pattern is missing behind "function"'],
    ['skip function a function b', 1, '"function" is there twice'],
    ['apart tenant', 1, 'write apart attribute NAME, or apart flag NAME'],
    ['join function a', 1, 'write join "NAME" and what such reports have'],
    ['algorithm 3', 1, 'write algorithm and its number: 1 or 2'],
    ['algorithm 1\nalgorithm 2', 2, 'the algorithm is there twice'],
    ['skip function "a', 1, 'a quotation mark is not closed'],
    ['x'.repeat(501), 1, 'the line is longer than 500 characters'],
  ])('are refused with line and reason: %s', (rules, line, message) => {
    expect(parseRules(rules)).toEqual({ ok: false, problem: { code: 'bad-rules', message, line } });
  });

  it('are read or refused, whatever is written', () => {
    fc.assert(fc.property(fc.string({ maxLength: 300 }), (text) => void parseRules(text)));
    const words = fc.constantFrom('ours', 'skip', 'join', 'message', 'apart', 'function', 'type', '"a b"', '*', '#', '\n', '"', '\\');
    fc.assert(fc.property(fc.array(words), (all) => void parseRules(all.join(' '))));
  });
});

describe('a pattern', () => {
  it('fits as a regular expression would', () => {
    const piece = fc.constantFrom('a', 'b', '*', '.');
    fc.assert(
      fc.property(fc.array(piece, { maxLength: 8 }), fc.array(fc.constantFrom('a', 'b', '.'), { maxLength: 8 }), (pattern, text) => {
        const expression = new RegExp(`^${pattern.map((one) => (one === '*' ? '.*' : one === '.' ? '\\.' : one)).join('')}$`);
        expect(patternTest(pattern.join(''))(text.join(''))).toBe(expression.test(text.join('')));
      }),
      { numRuns: 1000 },
    );
  });
});

describe('grouping of what has no stack of its own', () => {
  it('takes a kill by its screen', () => {
    const nothing: ReadableReport = {
      exceptions: [{ ...report([], { type: 'low memory' }).exceptions[0], message: null } as never],
      threads: [],
      needs: [],
    };
    const on = (screen: string | null) => groupReport({ ...bareContext('kill'), screen }, nothing);
    expect(on('map')).toMatchObject({ where: 'on map', explanation: { basis: 'screen' } });
    expect(on('map').key).not.toBe(on('list').key);
    expect(on(null)).toMatchObject({ where: 'no stack', explanation: { basis: 'message' } });
  });

  it('takes a hang by the thread that holds what the main thread waits for', () => {
    const thread = (name: string, crashed: boolean, frames: readonly string[]) => ({
      name,
      crashed,
      frames: frames.map((one) => frame(one)),
    });
    const threads = [
      thread('main', true, ['java.lang.Object.wait', 'com.larkfield.Form.open']),
      thread('sync', false, ['java.io.Socket.read', 'com.larkfield.Sync.run']),
    ];
    const hang = (holder: number | null) => groupReport({ ...bareContext('hang'), holder }, { exceptions: [], threads, needs: [] });
    expect(hang(null)).toMatchObject({ where: 'Form.open', explanation: { thread: null } });
    expect(hang(1)).toMatchObject({ where: 'Sync.run', explanation: { thread: 1 } });
  });
});

describe('the variants of a case', () => {
  it('differ by the way to the same place', () => {
    const [one, other] = ['com.larkfield.A.a', 'com.larkfield.B.b'].map((caller) =>
      group('', report(['com.larkfield.Tiles.get', 'com.larkfield.Guide.run', 'com.larkfield.Main.main', caller])),
    );
    expect(one?.key).toBe(other?.key);
    expect(one?.variant).not.toBe(other?.variant);
  });
});

describe('the preview of rules', () => {
  const part = (number: number, key: string, reports: number, leadsTo: number | null = null): RegroupedPart => ({
    caseId: number * 10,
    number,
    key,
    title: `title of ${key}`,
    reports,
    leadsTo,
  });

  it('says what merges, what splits and what stays, and who keeps the number', () => {
    const { merged, split, unchanged, moving, looked, claims } = compareGroups([
      part(1, 'a', 50),
      part(2, 'a', 80),
      part(3, 'b', 10),
      part(3, 'c', 30),
      part(4, 'd', 5, 40),
    ]);
    expect(merged).toEqual([
      {
        title: 'title of a',
        reports: 130,
        stays: 2,
        from: [
          { number: 2, reports: 80 },
          { number: 1, reports: 50 },
        ],
      },
    ]);
    expect(split.map(({ number, into }) => ({ number, into: into.map(({ stays, reports }) => ({ stays, reports })) }))).toEqual([
      {
        number: 3,
        into: [
          { stays: null, reports: 10 },
          { stays: 3, reports: 30 },
        ],
      },
    ]);
    expect({ unchanged, moving, looked }).toEqual({ unchanged: 1, moving: 60, looked: 175 });
    expect([...claims]).toEqual([
      ['a', 20],
      ['c', 30],
    ]);
  });

  it('gives every key to one case at most, and no case two keys', () => {
    const anyPart = fc.record({
      number: fc.integer({ min: 1, max: 6 }),
      key: fc.constantFrom('a', 'b', 'c', 'd'),
      reports: fc.integer({ min: 1, max: 99 }),
    });
    fc.assert(
      fc.property(fc.uniqueArray(anyPart, { selector: ({ number, key }) => `${number}${key}` }), (drawn) => {
        const parts = drawn.map(({ number, key, reports }) => part(number, key, reports));
        const { claims, looked, moving } = compareGroups(parts);
        expect(new Set(claims.values()).size).toBe(claims.size);
        for (const [key, caseId] of claims) expect(parts.some((one) => one.key === key && one.caseId === caseId)).toBe(true);
        expect(moving).toBeLessThanOrEqual(looked);
      }),
    );
  });
});

import { describe, expect, it } from 'vitest';
import type { JvmFrame } from '../frames.ts';
import { reportLimits } from '../limits.ts';
import { type Report, type ReportInput, reportSchema } from '../report.ts';
import { fitReport } from './fit-report.ts';

const frames = (count: number, text = 'b') =>
  Array.from({ length: count }, (_, at) => ({ runtime: 'jvm' as const, class: text, method: text, file: text, line: at }));
const report = (more: Partial<ReportInput>): Report =>
  reportSchema.parse({
    id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
    kind: 'crash',
    occurredAt: '2026-01-02T03:04:05Z',
    version: '4.3.0',
    build: '430',
    ...more,
  });
const thread = (name: string, count: number, more: object = {}) => ({ name, frames: frames(count), ...more });

describe('a report', () => {
  it('that fits is kept as it is', () => {
    const given = report({ exceptions: [{ type: 'E', frames: frames(3) }] });
    const fitted = fitReport(given);
    expect(fitted.report).toBe(given);
    expect(JSON.parse(fitted.body)).toEqual(given);
    expect(fitted.remarks).toEqual([]);
  });

  it('with too many frames keeps those of the thread that crashed; the others share what is left', () => {
    const threads = [thread('short', 10), ...Array.from({ length: 100 }, (_, at) => thread(`t${at}`, 1_900, { crashed: at === 70 }))];
    const given = report({ threads });
    const fitted = fitReport(given);
    const lengths = fitted.report.threads.map((one) => one.frames.length);
    expect([lengths[0], lengths[71]]).toEqual([10, 1_900]);
    expect(Math.min(...lengths.slice(1))).toBeGreaterThan(150);
    expect(lengths.reduce((sum, one) => sum + one, 0)).toBeLessThanOrEqual(reportLimits.frames);
    expect(fitted.report.threads[1]?.framesLeftOut).toEqual({
      after: Math.ceil((lengths[1] as number) / 2),
      count: 1_900 - (lengths[1] as number),
    });
    expect(fitted.report.remarks).toEqual(fitted.remarks);
    expect(given.threads[1]?.frames).toHaveLength(1_900);
  });

  it.each<[what: string, more: Partial<ReportInput>]>([
    ['long names', { exceptions: [{ type: 'E', frames: frames(2_000, 'n'.repeat(1_024)) }] }],
    [
      'long names in the stack of each exception',
      {
        exceptions: Array.from({ length: 64 }, () => ({ type: 'E', message: 'm'.repeat(16_000), frames: frames(300, 'n'.repeat(1_024)) })),
      },
    ],
    [
      'long names in each thread',
      {
        threads: Array.from({ length: 500 }, (_, at) => ({
          name: 't'.repeat(1_024),
          frames: frames(at === 0 ? 20 : 4, 'n'.repeat(1_024)),
        })),
      },
    ],
    ['stacks as text', { exceptions: Array.from({ length: 64 }, () => ({ type: 'E', stack: 's'.repeat(65_536) })) }],
    ['images', { images: Array.from({ length: 2_000 }, () => ({ name: 'i'.repeat(1_024) })) }],
    [
      'lists of attributes',
      { attributes: Object.fromEntries(Array.from({ length: 100 }, (_, at) => [`a${at}`, Array(100).fill('v'.repeat(4_096))])) },
    ],
    [
      'sections and a trail',
      {
        sections: Array.from({ length: 32 }, () => ({ name: 's', text: 't'.repeat(65_536) })),
        trail: Array.from({ length: 500 }, () => ({ kind: 'log' as const, at: '2026-01-02T03:04:05Z', message: 'l'.repeat(2_000) })),
      },
    ],
    [
      'all of it',
      {
        exceptions: Array.from({ length: 64 }, () => ({
          type: 'E'.repeat(1_000),
          message: '\u2028"'.repeat(8_000),
          frames: frames(300, '"'.repeat(1_024)),
        })),
        threads: Array.from({ length: 500 }, () => ({ name: '"'.repeat(1_024), frames: frames(40, '"'.repeat(1_024)) })),
        images: Array.from({ length: 2_000 }, () => ({ name: '"'.repeat(1_024) })),
        attributes: Object.fromEntries(Array.from({ length: 100 }, (_, at) => [`a${at}`, 'v'.repeat(4_096)])),
      },
    ],
  ])('with more than fits in %s is cut until it fits, and keeps the top of its first stack', (_, more) => {
    const given = report(more);
    const { body, report: fitted, remarks } = fitReport(given);
    expect(body.length).toBeLessThanOrEqual(reportLimits.bodyCharacters);
    expect(reportSchema.safeParse(fitted).error?.issues ?? []).toEqual([]);
    expect(remarks).toHaveLength(JSON.stringify(given).length > reportLimits.bodyCharacters ? 1 : 0);
    expect((fitted.exceptions[0]?.frames[0] as JvmFrame | undefined)?.line).toBe(given.exceptions[0]?.frames.length ? 0 : undefined);
  });
});

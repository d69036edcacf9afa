import { describe, expect, it } from 'vitest';
import { type Report, reportSchema } from '../report/report.ts';
import type { ReadableReport } from '../symbolicate/readable-report.ts';
import { nameOfTerm, stepsOf, termsOfReport } from './report-terms.ts';

const at = '2026-05-01T10:00:00Z';
const report: Report = reportSchema.parse({
  id: '0b8a7f6e-1111-4222-8333-444455556666',
  kind: 'crash',
  occurredAt: at,
  version: '4.3.0',
  build: '430',
  os: { name: 'Android', version: '14' },
  device: { manufacturer: 'Tarn', model: 'Go 3', memoryClass: '2 GB', rooted: false },
  country: 'NO',
  personId: 'warden-7',
  flags: { 'night-map': 'on' },
  attributes: { screen: 'map', layers: ['terrain', 'sightings', 'terrain'], secret: 'x', depth: 12.5 },
  trail: [
    { kind: 'lifecycle', at, state: 'foreground' },
    { kind: 'screen', at, name: 'map' },
    { kind: 'request', at, method: 'GET', host: 'tiles.example', path: '/{z}', status: 504 },
    { kind: 'request', at, method: 'GET', host: 'tiles.example', path: '/{z}' },
    { kind: 'log', at, level: 'warn', message: 'tile 4711 is late' },
    { kind: 'log', at, level: 'warn', message: 'tile 12 is late' },
  ],
});
const frame = (name: string) =>
  ({
    runtime: 'jvm',
    function: name,
    file: null,
    line: null,
    column: null,
    inlined: false,
    ours: true,
    status: 'resolved',
    raw: name,
    rawIndex: 0,
  }) as const;
const readable: ReadableReport = {
  exceptions: [
    { type: 'A', message: 'no tile 4711', relation: 'thrown', parent: null, frames: [frame('a.B.c'), frame('a.B.d')], framesInCommon: 0 },
    { type: 'B', message: null, relation: 'cause', parent: 0, frames: [frame('a.B.d')], framesInCommon: 0 },
  ],
  threads: [{ name: 'other', crashed: false, frames: [frame('x.Y.z')] }],
  needs: [],
};

const terms = (filterable: readonly string[] = []) =>
  termsOfReport(report, readable, new Set(filterable)).map(({ field, key, value }) => `${field}${key && `.${key}`}=${value}`);

describe('the terms of a report', () => {
  it('are everything that can be filtered by, once each', () => {
    expect(terms()).toEqual([
      'version=4.3.0',
      'build=430',
      'build.type=release',
      'os.name=Android',
      'os.version=14',
      'device.model=Tarn Go 3',
      'device.memory=2 GB',
      'device.rooted=false',
      'country=NO',
      'screen=map',
      'session=none',
      'person=warden-7',
      'flags.night-map=on',
      'type=A',
      'message=no tile <number>',
      'type=B',
      'stack=a.B.c\na.B.d',
      'trail=foreground',
      'trail=screen map',
      'trail=request GET tiles.example/{z} 504',
      'trail=request GET tiles.example/{z} without answer',
      'trail=warn tile <number> is late',
    ]);
  });

  it('hold the attributes that are filterable, a list element by element, and no others', () => {
    expect(terms(['layers', 'depth', 'nowhere']).filter((one) => one.startsWith('attributes'))).toEqual([
      'attributes.layers=terrain',
      'attributes.layers=sightings',
      'attributes.depth=12.5',
    ]);
  });

  it('have names that tell field, key and value apart', () => {
    const names = [
      { field: 'flags', key: 'a', value: 'b c' },
      { field: 'flags', key: 'a b', value: 'c' },
      { field: 'attributes', key: 'a', value: 'b c' },
    ] as const;
    expect(new Set(names.map(nameOfTerm)).size).toBe(3);
  });

  it('are bounded, however long the trail', () => {
    const long = Array.from({ length: 500 }, (_, place) => ({ kind: 'screen' as const, at, name: `screen ${place}` }));
    expect(stepsOf(long)).toHaveLength(100);
  });
});

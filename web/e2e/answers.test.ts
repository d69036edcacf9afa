import { operations } from '@rough-ember/server/api/registry';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { beforeAll, describe, expect, it } from 'vitest';
import { askAsOwner } from './testing/owner.ts';
import { server } from './testing/server.ts';

const app = 'larkfield-guide';

interface ApiDocument {
  readonly paths: Record<string, Record<string, { responses: Record<string, { content?: Record<string, { schema?: object }> }> }>>;
  readonly components: { readonly schemas: Record<string, object> };
}

/** Something of the demo for each parameter of a path. */
const known: Record<string, string> = { app };
let document: ApiDocument;
const ajv = new Ajv2020({ strict: false, logger: false });

beforeAll(async () => {
  document = await (await fetch(`${server.address}/api/v1/openapi.json`)).json();
  // So that references are those of the document itself.
  ajv.addSchema(document, 'document');
  const { cases } = await askAsOwner<{ cases: { ref: string }[] }>(`/api/v1/apps/${app}/cases?last=all`);
  known.ref = cases[0]?.ref as string;
  const { report } = await askAsOwner<{ report: { id: string } }>(`/api/v1/apps/${app}/cases/${known.ref}?last=all`);
  known.report = report.id;
  const { sessions } = await askAsOwner<{ sessions: { id: string }[] }>(`/api/v1/apps/${app}/sessions?last=all`);
  known.session = sessions[0]?.id as string;
  const { files } = await askAsOwner<{ files: { id: number }[] }>(`/api/v1/apps/${app}/symbol-files`);
  known.file = String(files[0]?.id);
  const versions = await askAsOwner<{ version: string }[]>(`/api/v1/apps/${app}/sent-versions`);
  known.sheet = 'monday';
  known.version = versions.at(-1)?.version as string;
});

const idOf: readonly [string, string][] = [
  ['/reports/', 'report'],
  ['/sessions/', 'session'],
  ['/symbol-files/', 'file'],
];
/** What some operations cannot do without. */
const parameters: Readonly<Record<string, string>> = {
  'GET /invitation': 'token=made_up',
  'GET /apps/{app}/ask': 'last=all&question=reports+by+version+per+week',
  'GET /apps/{app}/cases': 'last=all&order=people',
  'GET /apps/{app}/cases/{ref}': 'last=all',
  'GET /apps/{app}/cases/{ref}/when': 'last=all&field=os.version',
  'GET /apps/{app}/values': 'last=all&field=version',
  'GET /apps/{app}/person': 'id=nobody',
  'GET /apps/{app}/source': 'file=Nest.kt&function=grow&line=3&version=4.3.0',
  'GET /apps/{app}/crash-free/compare': 'last=all&by=version&right=4.3.0',
  'GET /apps/{app}/crash-free': 'last=all&count=hangs,kills',
  'GET /apps/{app}/symbol-files/known': `sha256=${'0'.repeat(64)}`,
};

const asked = operations.filter((one) => one.key.startsWith('GET') && !('produces' in one) && !one.key.includes('{secret}'));

describe('every operation that reads answers as it is documented', () => {
  it.each(asked.map(({ key }) => key))('%s', async (key) => {
    const [, path] = key.split(' ') as [string, string];
    const address = path.replace(/\{(\w+)\}/g, (_, name: string) => {
      const kind = name === 'id' ? idOf.find(([part]) => path.includes(part))?.[1] : name;
      return encodeURIComponent(known[kind as string] as string);
    });
    const answer = await askAsOwner(`/api/v1${address}?${parameters[key] ?? ''}`);
    const pointer = `/api/v1${path}`.replaceAll('~', '~0').replaceAll('/', '~1');
    const validate = ajv.compile({
      $ref: `document#/paths/${encodeURIComponent(pointer)}/get/responses/200/content/application~1json/schema`,
    });
    validate(answer);
    expect(validate.errors).toBeNull();
    // A schema that lets everything pass would find nothing wrong.
    expect(validate({ made: 'up' })).toBe(false);
  });
});

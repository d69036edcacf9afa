import { readFileSync } from 'node:fs';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { describe, expect, it } from 'vitest';
import { setStage } from './testing/stage.ts';

const samples = new URL('../../core/samples/', import.meta.url);
const guide = new URL('../../demo/larkfield-guide/builds/4.2.0/', import.meta.url);

/** Every request the page made since the bench was open. */
let requests: string[];
const stage = setStage(async (visitor) => {
  await visitor.enter('/apps/larkfield-guide/bench');
  requests = [];
  visitor.page.on('request', (request) => requests.push(`${request.method()} ${new URL(request.url()).pathname}`));
});

const result = () => stage.visitor.page.getByRole('region', { name: 'Symbolicated' });
const add = (name: string, buffer: Buffer) =>
  stage.visitor.page.locator('input[type=file]').last().setInputFiles({ name, mimeType: 'application/octet-stream', buffer });

describe('the bench', () => {
  it('symbolicates native code in the browser, and sends nothing', async () => {
    const library = readFileSync(new URL('binaries/built/clang-arm64-O2.so', samples));
    const indexed = await indexSymbolFile(sourceOf(new Uint8Array(library)), { fileName: 'libsong.so' });
    const buildId = indexed.ok ? (indexed.value[0]?.symbolId as string) : '';
    await stage.visitor.expectAccessible();
    await stage.visitor.page.getByLabel('Crash text').fill(`*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
ABI: 'arm64'
pid: 4242, tid: 4260, name: song-worker  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007b2c1f4790
backtrace:
      #00 pc 0000000000004818  /data/app/guide/lib/arm64/libsong.so (BuildId: ${buildId})
`);
    await result().getByText(`The symbols of libsong.so are missing, id ${buildId}.`).waitFor();
    expect(await result().getByRole('button', { name: 'Which case is this?' }).isDisabled()).toBe(true);
    await add('other.so', readFileSync(new URL('binaries/built/clang-arm64-O3.so', samples)));
    await result().getByText(`The symbols of libsong.so are not among the files, id ${buildId}.`).waitFor();
    await add('libsong.so', library);
    await result().getByText('lark::smooth<3, float>').waitFor();
    await result().getByText('2 resolved').waitFor();
    await stage.visitor.page.getByRole('button', { name: 'Take away libsong.so' }).click();
    await result().getByText('1 without symbols').waitFor();
    await stage.visitor.expectAccessible();
    // The worker's own script and its parts are all that was fetched, with GET.
    expect(requests.filter((one) => !/^GET \/_astro\//.test(one))).toEqual([]);
  });

  it('says what is no symbol file and what is no crash', async () => {
    await add('icon.png', Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]));
    await stage.visitor.page.getByText('This looks like a PNG picture').waitFor();
    await stage.visitor.page.getByLabel('Crash text').fill('it just crashed');
    await result().getByText('This is no crash that can be read').waitFor();
    expect(requests.filter((one) => !/^GET \/_astro\//.test(one))).toEqual([]);
  });

  it('finds the case of a stack when asked, sending only what makes the case', async () => {
    await stage.visitor.page.getByLabel('Crash text').fill(readFileSync(new URL('crashes/tides.txt', guide), 'utf8'));
    await add('mapping.txt', readFileSync(new URL('mapping.txt', guide)));
    await result().getByText('TideClient.fetch').first().waitFor();
    await result().getByRole('button', { name: 'Which case is this?' }).click();
    await result()
      .getByRole('link', { name: /^LG-\d+: / })
      .waitFor();
    expect(requests.filter((one) => !/^GET \/_astro\//.test(one))).toEqual(['POST /api/v1/apps/larkfield-guide/case-of-key']);
  });

  it('takes files that are dropped on it', async () => {
    const dropped = await stage.visitor.page.evaluateHandle(
      (text) => {
        const transfer = new DataTransfer();
        transfer.items.add(new File([text], 'mapping.txt'));
        return transfer;
      },
      readFileSync(new URL('mapping.txt', guide), 'utf8'),
    );
    const place = stage.visitor.page.getByRole('region', { name: 'Drop symbol files' });
    await place.dispatchEvent('dragover', { dataTransfer: dropped });
    await expect.poll(() => place.getAttribute('data-over')).toBe('true');
    await place.dispatchEvent('drop', { dataTransfer: dropped });
    await stage.visitor.page.getByText('obfuscation mapping, no id').waitFor();
    await expect.poll(() => place.getAttribute('data-over')).toBe('false');
  });
});

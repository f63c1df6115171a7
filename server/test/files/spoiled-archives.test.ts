import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { faultRow } from '@old-echo/testing/fault-rows';
import { times } from '@old-echo/testing/runs';
import { spoiledJson } from '@old-echo/testing/spoiled-json';

import { Rig } from '../server-rig';
import { bring, download, upload } from './file-steps';

jest.setTimeout(1_200_000);

let rig: Rig;
beforeAll(async () => {
  rig = await Rig.open();
});
afterAll(() => rig.close());

const productionIds = async () => (await rig.get<ProductionView[]>('/productions')).body.map(({ id }) => id).sort();
const lines = (bytes: Uint8Array) =>
  Buffer.from(bytes)
    .toString()
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as unknown);
const jsonl = (list: readonly unknown[]) => strToU8(list.map((line) => JSON.stringify(line)).join('\n'));

test('an archive with anything wrong in what is inside of it comes in whole or not at all, and everything stays readable', async () => {
  const entries = unzipSync(await download(rig, `/exports/productions/${rig.production.id}`));
  const head: unknown = JSON.parse(Buffer.from(entries['archive.json']!).toString());
  const [scenes, strips] = [lines(entries['scenes.jsonl']!), lines(entries['strips.jsonl']!)];
  const spoiled = fc.oneof(
    spoiledJson(head).map((json) => ({ 'archive.json': strToU8(JSON.stringify(json)) })),
    spoiledJson(scenes).map((list) => ({ 'scenes.jsonl': jsonl(list as unknown[]) })),
    spoiledJson(strips).map((list) => ({ 'strips.jsonl': jsonl(list as unknown[]) })),
  );
  const whole = await upload(rig, zipSync(entries));
  expect(await bring(rig, whole.body)).toMatchObject({ status: 'done' });
  const tally = { refused: 0, failed: 0, done: 0 };
  await fc.assert(
    fc.asyncProperty(spoiled, async (parts) => {
      const before = await productionIds();
      const { status, body } = await upload(rig, zipSync({ ...entries, ...parts }));
      if (status !== 201) {
        tally.refused++;
        expect([status, body.title]).toEqual([422, expect.stringMatching(/^.{4,400}\.$/su)]);
      } else {
        const { status: ended, why } = await bring(rig, body);
        if (ended === 'done') tally.done++;
        else {
          tally.failed++;
          expect([ended, why]).toEqual(['failed', expect.stringMatching(/^(?!Something went wrong).{4,}\.$/su)]);
          expect(await productionIds()).toEqual(before);
        }
      }
    }),
    { numRuns: times(40, 1000) },
  );
  expect((await rig.get('/storage-check')).body).toMatchObject({ orphans: 0, spoiled: 0 });
  faultRow(
    'an archive with something wrong in its entries',
    `${times(40, 1000)} archives`,
    `${tally.refused} refused, ${tally.failed} failed with a sentence and left nothing, ${tally.done} came in whole`,
  );
});

import type { ConversionPreview, ConversionView } from '@old-echo/core/contracts/conversion';
import type { VenueView } from '@old-echo/core/contracts/part';
import type { Problem } from '@old-echo/core/contracts/problem';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { ScenePage } from '@old-echo/core/contracts/scene';
import { specOf } from '@old-echo/core/desk/profile';
import { validateValue } from '@old-echo/core/desk/setting';
import { quay, skiff } from '@old-echo/testing/profiles';

import { flat, Rig, until } from '../server-rig';

jest.setTimeout(60_000);

let rig: Rig;
let small = '';
beforeAll(async () => {
  rig = await Rig.open();
  const desks = (await rig.get<{ id: string; name: string }[]>('/desks')).body;
  small = desks.find(({ name }) => name === 'Skiff 16')!.id;
});
afterAll(() => rig.close());

const request = (more: object = {}) => ({ productionId: rig.production.id, deskId: small, ...more });
const preview = async (more: object = {}) =>
  (await rig.post<ConversionPreview & Problem>('/conversions/preview', request(more))).body;
async function ended(id: string): Promise<ConversionView> {
  let view!: ConversionView;
  await until(async () => {
    view = (await rig.get<ConversionView>(`/conversions/${id}`)).body;
    return view.status !== 'running';
  }, 60_000);
  return view;
}
const begin = async (more: object = {}) =>
  (await rig.post<ConversionView & Problem>('/conversions', request(more))).body;
const productions = async () => (await rig.get<ProductionView[]>('/productions')).body;

test('the show goes to the small desk with a report; one match is corrected and remembered', async () => {
  const seen = await preview();
  expect([seen.scenes, seen.matches.some(({ to }) => to === null)]).toEqual([8, true]);
  const fiddle = seen.matches.find(({ fromName }) => fromName === 'Fiddle')!;
  const other = seen.matches.find(({ fromName }) => fromName === 'Shaker')!;
  const corrected = await preview({ hands: { [fiddle.from]: other.to, [other.from]: null } });
  expect(corrected.matches.find(({ from }) => from === fiddle.from)).toMatchObject({ to: other.to, why: 'hand' });
  const view = await ended((await begin({ hands: { [fiddle.from]: other.to, [other.from]: null } })).id);
  expect(view).toMatchObject({ status: 'done', done: 8, total: 8 });
  expect(view.lines).toContainEqual(expect.objectContaining({ how: 'left behind', about: 'EQ band 2 gain' }));
  const made = (await productions()).find(({ id }) => id === view.productionId)!;
  expect([made.name, made.deskId, made.versions.map(({ name }) => name)]).toEqual([
    'Night Ferry on Skiff 16',
    small,
    ['The show'],
  ]);
  const state = flat(await rig.stateOf(view.sceneId!));
  expect(state[`${other.to}/label/name`]).toBe('Fiddle');
  for (const [address, value] of Object.entries(state)) {
    const spec = specOf(skiff, address);
    expect([address, spec && validateValue(spec, value)]).toEqual([address, { ok: true, value }]);
  }
  // Remembered: the next time nobody has to say it again.
  expect((await preview()).matches.find(({ from }) => from === fiddle.from)).toMatchObject({
    to: other.to,
    why: 'hand',
  });
  const paper = await (
    await fetch(`http://127.0.0.1:${rig.running.port}/api/conversions/${view.id}/report.html`)
  ).text();
  expect(paper).toContain('<td>your choice<td>');
});

test('scenes keep their order, words and parents on the other desk', async () => {
  const [own, made] = await Promise.all(
    [rig.production.id, (await productions()).find(({ name }) => name === 'Night Ferry on Skiff 16')!.id].map(
      async (id) => (await rig.get<ScenePage>(`/productions/${id}/scenes?limit=200&ownOnly=true`)).body.scenes,
    ),
  );
  expect(made!.map(({ name, note }) => [name, note])).toEqual(own!.map(({ name, note }) => [name, note]));
  expect(made!.slice(0, -1).every(({ parents }, i) => parents[0] === made![i + 1]!.id)).toBe(true);
});

test('into a show that is there: after its own scenes and versions, while captures into it go on', async () => {
  const into = (await productions()).find(({ name }) => name === 'Night Ferry on Skiff 16')!;
  const pageOf = async (id: string) =>
    (await rig.get<ScenePage>(`/productions/${id}/scenes?limit=200&ownOnly=true`)).body.scenes;
  const before = await pageOf(into.id);
  const view = await ended((await begin({ intoId: into.id })).id);
  expect([view.status, view.productionId]).toEqual(['done', into.id]);
  const after = await pageOf(into.id);
  const own = await pageOf(rig.production.id);
  expect(after.map(({ number }) => number)).toEqual(Array.from({ length: 16 }, (_, i) => 16 - i));
  expect(after.slice(8)).toEqual(before);
  expect(after.slice(0, 8).map(({ name }) => name)).toEqual(own.map(({ name }) => name));
  const versions = (await productions()).find(({ id }) => id === into.id)!.versions;
  expect(versions.map(({ name }) => name)).toEqual(['The show', 'The show 2']);
  expect((await productions()).filter(({ name }) => name.startsWith('Night Ferry on'))).toHaveLength(1);
});

test('cancelled, nothing of it stays', async () => {
  const before = (await productions()).map(({ id }) => id);
  const { id } = await begin();
  await rig.post(`/conversions/${id}/cancel`, {});
  const view = await ended(id);
  // It may have been quicker than the hand that cancelled it.
  if (view.status === 'cancelled') expect((await productions()).map((p) => p.id)).toEqual(before);
  else expect(view.status).toBe('done');
});

test('sections that stay behind are not in what is made; all of them are refused', async () => {
  const { sceneId } = await ended((await begin({ without: ['eq', 'sends'] })).id);
  const sections = new Set(Object.keys(flat(await rig.stateOf(sceneId!))).map((address) => address.split('/')[1]));
  expect([sections.has('eq'), sections.has('sends'), sections.has('fader')]).toEqual([false, false, true]);
  const all = Object.values(quay.families).flatMap((family) => family.sections);
  expect(await preview({ without: [...new Set(all)] })).toMatchObject({ title: 'Every section stays behind.' });
});

test('a hand that names a strip which is not there, and a production without scenes, are refused with a sentence', async () => {
  expect((await preview({ hands: { 'in.1': 'in.40' } })).title).toMatch(/^in\.1 cannot go to in\.40/);
  const busking = (await productions()).find(({ name }) => name === 'Quayside busking')!;
  const answer = await rig.post<Problem>('/conversions/preview', { productionId: busking.id, deskId: rig.desk.id });
  expect(answer.body.title).toBe('There is no scene to carry over.');
});

test('a venue keeps what its parts are set to, without their faders', async () => {
  const at = `/productions/${rig.production.id}`;
  await rig.call('PUT', `${at}/parts`, { parts: {} });
  const added = (await rig.post<VenueView[]>(`${at}/venues`, { name: 'Net loft' })).body;
  const venue = added.find(({ name }) => name === 'Net loft');
  expect((await rig.post<Problem>(`${at}/venues/${venue!.id}/capture`, {})).body.title).toBe(
    'No strip of this song or show has a part yet.',
  );
  await rig.call('PUT', `${at}/parts`, { parts: { 'in.1': 'fiddle', 'fx.1': 'hall' } });
  rig.front.hands({ 'in.1/pan/position': -40, 'in.1/eq/2/gain': -3, 'fx.1/inserts/time': 1.1, 'in.1/fader/level': -7 });
  const all = (await rig.post<VenueView[]>(`${at}/venues/${venue!.id}/capture`, {})).body;
  const kept = all.find(({ id }) => id === venue!.id)!;
  expect(kept.settings['fiddle']).toMatchObject({ 'pan/position': -40, 'eq/2/gain': -3 });
  expect(kept.settings['fiddle']).not.toHaveProperty('fader/level');
  expect(kept.settings['hall']).toMatchObject({ 'inserts/time': 1.1 });
  // Under another name it is the same; two cannot have one name.
  const rename = (name: string) => rig.call<VenueView[] & Problem>('PATCH', `${at}/venues/${venue!.id}`, { name });
  expect((await rename('Rope walk')).body.find(({ id }) => id === venue!.id)).toEqual({ ...kept, name: 'Rope walk' });
  expect((await rename('Harbour Hall')).body.title).toBe('There is already a venue called Harbour Hall.');
  expect((await rename('Rope walk')).status).toBe(200);
});

test('a venue holds the sections and parts that are chosen, has a note, and is copied under a name of its own', async () => {
  const at = `/productions/${rig.production.id}`;
  await rig.call('PUT', `${at}/parts`, { parts: { 'in.1': 'fiddle', 'in.2': 'voice', 'fx.1': 'hall' } });
  const added = (await rig.post<VenueView[]>(`${at}/venues`, { name: 'Sail loft', note: 'Low ceiling' })).body;
  const { id } = added.find(({ name }) => name === 'Sail loft')!;
  const held = async (answer: Promise<{ body: VenueView[] }>) => (await answer).body.find((venue) => venue.id === id)!;
  const taken = await held(
    rig.post(`${at}/venues/${id}/capture`, { sections: ['fader', 'effect lengths'], strips: ['in.1', 'fx.1'] }),
  );
  const sectionsOf = (part: string) => [
    ...new Set(Object.keys(taken.settings[part] ?? {}).map((key) => key.split('/')[0])),
  ];
  expect(Object.keys(taken.settings).sort()).toEqual(['fiddle', 'hall']);
  expect([sectionsOf('fiddle'), sectionsOf('hall').sort()]).toEqual([['fader'], ['fader', 'inserts']]);
  expect(
    Object.keys(taken.settings['hall'] ?? {})
      .filter((key) => key.startsWith('inserts'))
      .sort(),
  ).toEqual(['inserts/predelay', 'inserts/time']);
  // What is not said of it stays as it is.
  expect(await held(rig.call('PATCH', `${at}/venues/${id}`, { name: 'Sail loft' }))).toEqual(taken);
  const copied = (await rig.post<VenueView[]>(`${at}/venues/${id}/copies`, {})).body;
  expect(copied.find(({ name }) => name === 'Sail loft 2')).toEqual({
    ...taken,
    id: expect.any(String) as string,
    name: 'Sail loft 2',
  });
  // Nothing chosen is said, and nothing of it is changed; taken back, it holds what it did before.
  const nothing = await rig.post<Problem>(`${at}/venues/${id}/capture`, { sections: [], strips: ['in.1'] });
  expect([nothing.status, nothing.body.title]).toEqual([422, 'Choose a section.']);
  const without = await rig.post<Problem>(`${at}/venues/${id}/capture`, { strips: ['in.40'] });
  expect([without.status, without.body.title]).toEqual([422, 'None of these strips has a part any more.']);
  expect((await held(rig.post(`${at}/venues/${id}/give-back`, {}))).settings).toEqual({});
});

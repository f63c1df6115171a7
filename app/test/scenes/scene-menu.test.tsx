import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { MAX_AT_HAND } from '@old-echo/core/contracts/desk';
import type { ProductionView } from '@old-echo/core/contracts/production';
import type { SceneView } from '@old-echo/core/contracts/scene';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { SceneMenu } from '../../src/scenes/scene-menu';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, fallSilent, follow, isOff, PRODUCTION, SCENE, show } from '../show';

jest.setTimeout(60_000);
router.params = { desk: '01DESK00000000000000000000' };

const OTHER_VERSION = { ...PRODUCTION.versions[0]!, id: '01VERSB0000000000000000000', name: 'Broadcast' };
const production: ProductionView = { ...PRODUCTION, versions: [...PRODUCTION.versions, OTHER_VERSION] };
/** On a desk of another kind: nothing of ours fits there. */
const elsewhere: ProductionView = {
  ...PRODUCTION,
  id: '01PRODB0000000000000000000',
  name: 'Tidal radio',
  deskId: '01DESKB0000000000000000000',
  versions: [{ ...OTHER_VERSION, id: '01VERSC0000000000000000000', name: 'Radio mix' }],
};

let server: FakeServer;
function menu(
  { scene = SCENE, desk = DESK }: { scene?: SceneView; desk?: DeskView } = {},
  answers: Record<string, unknown> = {},
) {
  router.navigate.mockClear();
  server = new FakeServer({
    profile: profileJson('quay-48'),
    desks: [DESK, { ...DESK, id: elsewhere.deskId, profileId: 'boathouse' }],
    productions: [production, elsewhere],
    editScene: scene,
    binScene: scene,
    moveScene: { ...scene, versionId: OTHER_VERSION.id },
    copyScene: { ...scene, id: '01COPY00000000000000000000', number: 15 },
    replaceScene: { ...scene, id: '01NEW000000000000000000000', number: 16 },
    setScenesAtHand: desk,
    ...answers,
  });
  follow(desk, defaultState(quay));
  show(<SceneMenu scene={scene} production={production} open onClose={() => undefined} onEdit={() => undefined} />);
}
const row = (name: RegExp | string) => screen.findByRole('button', { name });
async function press(name: RegExp | string) {
  const found = await row(name);
  // What needs the desk waits until it is known.
  await waitFor(() => expect(isOff(found)).toBe(false));
  fireEvent.click(found);
}
const said = async (words: string) => waitFor(() => expect(store.getState().notice.text).toBe(words));
const undo = () => store.getState().notice.undo;
const dialog = (name: RegExp) => screen.findByRole('dialog', { name });

describe('a protected scene', () => {
  const scene = { ...SCENE, protected: true };
  test.each([/^Replace with the desk/, /^Move to the bin/])('cannot be had with %s', async (name) => {
    menu({ scene });
    await screen.findAllByText('It is protected');
    expect(isOff(await row(name))).toBe(true);
  });

  test('is unprotected at the revision that was seen', async () => {
    menu({ scene: { ...scene, revision: 5 } });
    await press(/^Unprotect/);
    await said('14 Static balance is unprotected.');
    expect(server.sentTo('editScene')).toEqual([{ protected: false, revision: 5 }]);
  });
});

describe('the desk', () => {
  test('that does not answer takes no scene and gives none', async () => {
    menu();
    await row(/^Swap to it/);
    fallSilent();
    expect(isOff(await row(/^Swap to it/))).toBe(true);
    expect(isOff(await row(/^Replace with the desk/))).toBe(true);
    expect(screen.getAllByText(`${DESK.name} is not connected`)).toHaveLength(2);
  });

  test('takes the place of a scene only once that was asked for, with the revision that was seen', async () => {
    menu();
    await press(/^Replace with the desk/);
    const sheet = await dialog(/^Replace 14 Static balance/);
    expect(server.sentTo('replaceScene')).toEqual([]);
    fireEvent.click(within(sheet).getByRole('button', { name: 'Replace' }));
    await said('16 Static balance saved from the desk. The old scene is in the bin.');
    expect(server.sentTo('replaceScene')).toEqual([{ sceneId: SCENE.id, revision: 1, by: '' }]);
  });

  test('whose show is locked is not written over: the refusal is said', async () => {
    menu({}, { replaceScene: new Fault('show-lock', 'The show is locked.', 'Unlock it first.') });
    await press(/^Replace with the desk/);
    fireEvent.click(within(await dialog(/^Replace 14/)).getByRole('button', { name: 'Replace' }));
    await said('The show is locked. Unlock it first.');
    expect(router.navigate).not.toHaveBeenCalled();
  });
});

describe('at hand', () => {
  const atHand = Array.from({ length: MAX_AT_HAND }, (_, i) => ({
    id: `01HAND0${i}`.padEnd(26, '0'),
    number: i,
    name: `Hand ${i}`,
  })) as unknown as DeskView['atHand'];

  test('it comes last, behind those that are there', async () => {
    menu({ desk: { ...DESK, atHand: atHand.slice(0, 1) } });
    await press(/^Keep at hand/);
    await said('14 Static balance is at hand on the desk.');
    expect(server.sentTo('setScenesAtHand')).toEqual([{ ids: [atHand[0]?.id, SCENE.id] }]);
  });

  test('there is room for so many', async () => {
    menu({ desk: { ...DESK, atHand } });
    expect(await screen.findByText(`There is room for ${MAX_AT_HAND}; remove one first`)).toBeTruthy();
    expect(isOff(await row(/^Keep at hand/))).toBe(true);
  });
});

describe('another version', () => {
  test('is offered on desks of the same kind; the own one for a copy only', async () => {
    menu();
    await press('Move to another version');
    const move = await dialog(/^Move 14/);
    const offered = (within_: HTMLElement) =>
      within(within_)
        .getAllByRole('radio')
        .map((one) => one.textContent);
    await waitFor(() => expect(offered(move).join()).toContain('Broadcast'));
    expect(offered(move).join()).not.toMatch(/Radio mix|Main version/);
  });

  test('a scene that was moved is moved back with one touch', async () => {
    menu();
    await press('Move to another version');
    fireEvent.click(await within(await dialog(/^Move 14/)).findByRole('radio', { name: /Broadcast/ }));
    await said('14 Static balance was moved to Broadcast, as 14 Static balance.');
    expect(undo()).toMatchObject({ body: { versionId: SCENE.versionId } });
  });

  test('a copy leaves the scene where it is, and nothing to take back', async () => {
    menu();
    await press('Copy to another version');
    fireEvent.click(await within(await dialog(/^Copy 14/)).findByRole('radio', { name: /Broadcast/ }));
    await said('14 Static balance was copied to Broadcast, as 15 Static balance.');
    expect(undo()).toBeUndefined();
    expect(server.sentTo('moveScene')).toEqual([]);
  });
});

test('what goes to the bin comes back with one touch', async () => {
  menu();
  await press(/^Move to the bin/);
  await said('14 Static balance is in the bin.');
  expect(undo()).toMatchObject({ url: expect.stringContaining(`/scenes/${SCENE.id}/unbin`) as string });
  await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(`/mixes/${production.id}`));
});

test('a scene in the bin is neither swapped to nor replaced', async () => {
  menu({ scene: { ...SCENE, binnedAt: '2026-11-25T20:00:00.000Z' } });
  for (const name of [/^Swap to it/, /^Replace with the desk/, /^Move to the bin/])
    expect(isOff(await row(name))).toBe(true);
});

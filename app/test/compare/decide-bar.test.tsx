import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import { defaultState } from '@old-echo/core/desk/state';
import { ALL_EXCEPT_GLOBALS, type Scope } from '@old-echo/core/recall/scope-rules';
import { quay } from '@old-echo/testing/profiles';

import { DecideBar, SideButtons } from '../../src/compare/decide-bar';
import { usePutOnDesk } from '../../src/compare/use-put-on-desk';
import { LIVE_DESK } from '../../src/components/links/compare-link';
import type { CompareSide } from '../../src/components/use-compare-side';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, SCENE, show } from '../show';

const state = defaultState(quay);
const SENDS: Scope = [{ strips: ['*'], sections: ['sends'], include: true }];
const side = (of: string, more: Partial<CompareSide> = {}): CompareSide => ({
  of,
  title: `14 Mix ${of}`,
  under: '',
  state,
  profile: quay,
  productionId: PRODUCTION.id,
  versionId: SCENE.versionId,
  scope: ALL_EXCEPT_GLOBALS,
  deskId: undefined,
  fault: undefined,
  ...more,
});

function Bar({ a, b }: { readonly a: CompareSide; readonly b: CompareSide }) {
  const desk = usePutOnDesk(a, b);
  if (!desk) return null;
  return (
    <>
      <DecideBar a={a} b={b} desk={desk} onPut={desk.put} follows={false} onFollows={() => undefined} />
      <SideButtons a={a} b={b} verb="alone" onPress={(one) => desk.putStrip(one, 'in.3', 'Fiddle')} />
    </>
  );
}

let server: FakeServer;
async function bar(a: CompareSide, b: CompareSide, desk: DeskView = DESK) {
  router.navigate.mockClear();
  const other = { ...DESK, id: 'another-desk', name: 'Boathouse' };
  server = new FakeServer({
    desks: [desk, other],
    productions: [PRODUCTION, { ...PRODUCTION, id: 'another', deskId: other.id }],
    startRestore: () => new Promise(() => undefined),
  });
  follow(desk, state);
  show(<Bar a={a} b={b} />);
  await screen.findByTestId('decide');
}
const put = (letter: string) => screen.queryByRole('button', { name: new RegExp(`^Put ${letter} on Quay 48`) });
const asked = () => server.sentTo('startRestore');

test('the mix that won is on the desk at one touch, with the recall scope it was saved with', async () => {
  await bar(side('one'), side('two', { scope: SENDS }));
  fireEvent.click(put('B')!);
  await waitFor(() => expect(asked()).toHaveLength(1));
  expect(asked()[0]).toMatchObject({ fingerprint: null, recall: { deskId: DESK.id, sceneId: 'two', scope: SENDS } });
});

test('one strip of a mix goes there alone', async () => {
  await bar(side('one', { scope: SENDS }), side('two'));
  fireEvent.click(screen.getByRole('button', { name: /^Put A alone/ }));
  await waitFor(() => expect(asked()).toHaveLength(1));
  expect(asked()[0]).toMatchObject({
    recall: { sceneId: 'one', scope: [{ strips: ['in.3'], sections: ['*'], include: true }] },
  });
});

test('at a show its preview opens, and the desk cannot go along with what is heard', async () => {
  await bar(side('one'), side('two'), { ...DESK, mode: 'live' });
  expect(screen.getByTestId('decide').textContent).toContain('Preview on Quay 48');
  expect(screen.queryByRole('checkbox', { name: /Desk follows/ })).toBeNull();
  fireEvent.click(put('A')!);
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('restore/one/preview'));
  expect(asked()).toEqual([]);
});

test.each<[string, Partial<DeskView>]>([
  ['Quay 48 is not connected.', { link: { state: 'unlinked', why: '' } }],
  ['The show on Quay 48 is locked.', { showLock: true }],
])('where nothing can be put there it says so: %s', async (why, desk) => {
  await bar(side('one'), side('two'), { ...DESK, ...desk });
  expect([screen.getByTestId('decide').textContent, put('A')]).toEqual([why, null]);
});

test('mixes of two desks are not put on either', async () => {
  await bar(side('one'), side('two', { productionId: 'another' }));
  expect(screen.getByTestId('decide').textContent).toMatch(/of two desks/);
});

test('what is on the desk now has no button, and the mix that stands there whole is marked', async () => {
  const standing: DeskView = {
    ...DESK,
    baseline: { revision: 1, line: '14 Mix two' },
    scene: { ...SCENE, id: 'two', binned: false, isUndoable: false },
  };
  await bar(side(LIVE_DESK, { deskId: DESK.id }), side('two'), standing);
  expect([put('A'), put('B')?.textContent]).toEqual([null, '● B']);
});

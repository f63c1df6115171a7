import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type { ProductionView } from '@old-echo/core/contracts/production';
import { Fault } from '@old-echo/core/fault/fault';

import { BinScreen } from '../../src/scenes/bin-screen';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, PRODUCTION, SCENE, show } from '../show';

jest.setTimeout(60_000);
router.params = { production: '01PROD00000000000000000000' };

const VERSION = PRODUCTION.versions[0]!;
const BINNED = { ...SCENE, binnedAt: '2026-11-25T20:00:00.000Z' };
const production: ProductionView = {
  ...PRODUCTION,
  binned: 1,
  binnedVersions: [{ ...VERSION, id: '01VERSB0000000000000000000', name: 'Broadcast', scenes: 3 }],
};

let server: FakeServer;
async function bin(of: Partial<ProductionView> = {}, answers: Record<string, unknown> = {}, scenes = [BINNED]) {
  server = new FakeServer({
    productions: [{ ...production, ...of }],
    scenes: { scenes, total: scenes.length, more: false },
    unbinScene: SCENE,
    unbinVersion: VERSION,
    deleteScene: {},
    deleteVersion: {},
    emptyBin: { removed: 1 },
    ...answers,
  });
  show(<BinScreen />);
  await screen.findByText('Bin');
}
const notice = () => store.getState().notice.text;
const press = (name: string, at = 0) => fireEvent.click(screen.getAllByRole('button', { name })[at]!);
const asked = () => server.asked.filter(({ name }) => /^(unbin|delete|empty)/.test(name)).map(({ name }) => name);

test('versions and scenes wait in it, each with how much it is', async () => {
  await bin();
  expect(await screen.findByText('14 Static balance')).toBeTruthy();
  expect(screen.getByText(/^Version with 3 scenes/)).toBeTruthy();
});

test('what comes out of it is said; under another name where its own is in use', async () => {
  await bin({}, { unbinScene: { ...SCENE, name: 'Static balance 2' } });
  await screen.findByText('14 Static balance');
  press('Take out', 1);
  await waitFor(() => expect(notice()).toBe('Out of the bin as Static balance 2: the old name is in use.'));
});

test('a version comes out as itself', async () => {
  await bin();
  await screen.findByText('Broadcast');
  press('Take out');
  await waitFor(() => expect(asked()).toEqual(['unbinVersion']));
});

describe('for good', () => {
  test('nothing goes before it was asked for once more', async () => {
    await bin();
    await screen.findByText('14 Static balance');
    press('Delete for good', 1);
    const sheet = await screen.findByRole('dialog');
    expect(within(sheet).getByText('Delete 14 Static balance for good?')).toBeTruthy();
    fireEvent.click(within(sheet).getByRole('button', { name: 'Cancel' }));
    expect(asked()).toEqual([]);
  });

  test('it goes once that was answered', async () => {
    await bin();
    await screen.findByText('14 Static balance');
    press('Delete for good', 1);
    fireEvent.click(within(await screen.findByRole('dialog')).getByRole('button', { name: 'Delete for good' }));
    await waitFor(() => expect(asked()).toHaveLength(1));
    await waitFor(() => expect(notice()).toBe('14 Static balance was deleted for good.'));
  });

  test('what leans on it is told, and it stays', async () => {
    await bin({}, { emptyBin: new Fault('show-lock', 'The show is locked.', 'Unlock it first.') });
    press('Empty the bin of scenes');
    const sheet = await screen.findByRole('dialog');
    expect(within(sheet).getByText('Delete 1 scene for good?')).toBeTruthy();
    fireEvent.click(within(sheet).getByRole('button', { name: 'Delete for good' }));
    await waitFor(() => expect(notice()).toBe('The show is locked. Unlock it first.'));
    expect(screen.getByText('14 Static balance')).toBeTruthy();
  });

  test('an empty bin cannot be emptied', async () => {
    await bin({ binned: 0, binnedVersions: [] }, {}, []);
    expect(await screen.findByText('The bin is empty')).toBeTruthy();
    expect(isOff(screen.getByRole('button', { name: 'Empty the bin of scenes' }))).toBe(true);
  });
});

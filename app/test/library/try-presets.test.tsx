import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { PresetView } from '@old-echo/core/contracts/preset';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { TryPresets } from '../../src/components/presets/try-presets';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, show, tell } from '../show';

const start = withSettings(defaultState(quay), {
  'in.1/label/name': 'Fiddle',
  'in.1/eq/1/gain': -2,
  'in.1/fader/level': -8,
});
const preset = (id: string, more: Partial<PresetView> = {}): PresetView => ({
  id,
  kind: 'processor',
  name: `Preset ${id}`,
  folder: '',
  tags: [],
  note: '',
  favourite: false,
  starts: false,
  profileId: quay.id,
  madeOn: '',
  by: '',
  madeAt: '2026-11-25T20:00:00.000Z',
  edition: 1,
  gist: 'EQ',
  binnedAt: null,
  revision: 1,
  ...more,
});
const CONTENT: Record<string, object> = {
  low: { 'eq/2/gain': 3 },
  high: { 'eq/4/gain': 4 },
  whole: { 'eq/3/gain': 5, 'fader/level': 0, 'label/name': 'Other' },
};
const LIST = [
  preset('low'),
  preset('high'),
  preset('whole', { kind: 'strip', gist: '' }),
  preset('gone', { binnedAt: '2026-11-25T20:00:00.000Z' }),
  preset('bus', { kind: 'bus' }),
];

let server: FakeServer;
async function tryOn(desk: DeskView = DESK, strip = 'in.1', answers: Record<string, unknown> = {}) {
  router.navigate.mockClear();
  server = new FakeServer({
    presets: LIST,
    preset: (_: unknown, path: string) => {
      const id = path.split('/').at(-1)!;
      return { ...LIST.find((one) => one.id === id), content: { 'in.9': CONTENT[id] }, earlier: [] };
    },
    profile: profileJson('quay-48'),
    stageSettings: (body: object) => ({ ...body, id: 'staged' }),
    startRestore: () => new Promise(() => undefined),
    ...answers,
  });
  follow(desk, start);
  const now = { desk, profile: quay, state: start, known: true, linked: desk.link.state === 'linked' };
  const { rerender } = show(<TryPresets now={now} strip={strip} />);
  fireEvent.click(await screen.findByRole('button', { name: /Try presets/ }));
  return (settings: SettingsByAddress) => {
    const state = withSettings(start, settings);
    tell({ type: 'full-state', state });
    rerender(<TryPresets now={{ ...now, state }} strip={strip} />);
  };
}
const staged = () => server.sentTo('stageSettings') as { settings: SettingsByAddress; title: string }[];
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));
const group = (name: string) => fireEvent.click(screen.getByRole('tab', { name }));

test('presets are offered by what they are of, those of buses and of the bin not', async () => {
  await tryOn();
  expect(screen.getAllByRole('tab').map(({ textContent }) => textContent)).toEqual(['Whole strip 1', 'EQ 2']);
});

test('each is put on what the strip was before, so that none hides in the next; and all of it goes at one touch', async () => {
  const desk = await tryOn();
  group('EQ 2');
  press('Next preset');
  await waitFor(() => expect(staged()).toHaveLength(1));
  expect(staged()[0]).toMatchObject({ title: 'Preset low on Fiddle', settings: { 'in.1/eq/2/gain': 3 } });
  desk({ 'in.1/eq/2/gain': 3 });
  press('Next preset');
  await waitFor(() => expect(staged()).toHaveLength(2));
  expect(staged()[1]!.settings).toEqual({ 'in.1/eq/2/gain': 0, 'in.1/eq/4/gain': 4 });
  desk({ 'in.1/eq/4/gain': 4 });
  press('As it was');
  await waitFor(() => expect(staged()).toHaveLength(3));
  expect(staged()[2]).toMatchObject({
    title: 'Fiddle as it was',
    settings: { 'in.1/eq/2/gain': 0, 'in.1/eq/4/gain': 0 },
  });
});

test('a touch is answered before its preset is read; of touches that are quicker than that only the last lands', async () => {
  const answers = new Map<string, () => void>();
  await tryOn(DESK, 'in.1', {
    preset: async (_: unknown, path: string) => {
      const id = path.split('/').at(-1)!;
      await new Promise<void>((resolve) => answers.set(id, resolve));
      return { ...LIST.find((one) => one.id === id), content: { 'in.9': CONTENT[id] }, earlier: [] };
    },
  });
  group('EQ 2');
  press('Next preset');
  expect(screen.getByTestId('tried').textContent).toBe('Preset low');
  press('Next preset');
  expect(screen.getByTestId('tried').textContent).toBe('Preset high');
  await waitFor(() => expect([...answers.keys()].sort()).toEqual(['high', 'low']));
  answers.get('high')!();
  await waitFor(() => expect(staged()).toHaveLength(1));
  answers.get('low')!();
  await new Promise((resolve) => setTimeout(resolve, 20));
  expect(staged().map(({ title }) => title)).toEqual(['Preset high on Fiddle']);
});

test('a preset put while the one before is not yet on the desk leaves nothing of it', async () => {
  await tryOn();
  group('EQ 2');
  press('Next preset');
  await waitFor(() => expect(staged()).toHaveLength(1));
  press('Next preset');
  await waitFor(() => expect(staged()).toHaveLength(2));
  expect(staged()[1]!.settings).toEqual({ 'in.1/eq/2/gain': 0, 'in.1/eq/4/gain': 4 });
});

test('one that cannot be read leaves what was tried before it', async () => {
  await tryOn(DESK, 'in.1', { preset: new Fault('not-found', 'This preset no longer exists.', 'Choose another.') });
  press('Next preset');
  expect(screen.getByTestId('tried').textContent).toBe('Preset whole');
  await waitFor(() => expect(screen.getByTestId('tried').textContent).toBe('Each is heard at once'));
  expect(staged()).toEqual([]);
});

test('of a whole strip only its processing is tried: fader, sends and name belong to the strip', async () => {
  await tryOn();
  press('Next preset');
  await waitFor(() => expect(staged()).toHaveLength(1));
  expect(staged()[0]!.settings).toEqual({ 'in.1/eq/3/gain': 5 });
});

test('where something has to be answered first it says so, and one can go on to the next', async () => {
  const stop = new Fault(
    'unanswered',
    'Fiddle gets 20 dB louder.',
    'Nothing was sent. Answer it in the preview first.',
  );
  await tryOn(DESK, 'in.1', { startRestore: stop });
  group('EQ 2');
  press('Next preset');
  expect(await screen.findByText(/^Fiddle gets 20 dB louder/)).toBeTruthy();
  expect(router.navigate).not.toHaveBeenCalled();
  press('Open its preview');
  expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('staged-settings/staged'));
});

test('at a show each opens its preview', async () => {
  await tryOn({ ...DESK, mode: 'live' });
  press('Next preset');
  await waitFor(() => expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('staged-settings/staged')));
  expect(server.sentTo('startRestore')).toEqual([]);
});

import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { PresetView } from '@old-echo/core/contracts/preset';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { TryPresets } from '../../src/components/presets/try-presets';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, SCENE, show, tell } from '../show';
import { stem } from '../stem';

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

describe('with a stem of the strip', () => {
  const ON: DeskView = { ...DESK, scene: { ...SCENE, binned: false, isUndoable: false } };
  /** LUFS of the strip: 3 LU more with the first preset, 1 LU more with the second. */
  const measured = ({ settings = {} }: { settings?: SettingsByAddress }) => {
    const more = settings['in.1/eq/2/gain'] === 3 ? 3 : settings['in.1/eq/4/gain'] === 4 ? 1 : 0;
    return {
      id: 'render',
      status: 'done',
      done: 1,
      total: 1,
      why: '',
      measured: { loudness: { integrated: -20 + more } },
    };
  };
  const matched = async (answers: Record<string, unknown> = {}, more: Partial<DeskView> = {}) => {
    const desk = await tryOn({ ...ON, ...more }, 'in.1', {
      productions: [PRODUCTION],
      stems: [stem('in.1')],
      startRender: measured,
      ...answers,
    });
    group('EQ 2');
    await screen.findByRole('checkbox', { name: /Level-matched/ });
    return desk;
  };

  test('its fader makes up for what each preset changes in loudness, and comes back with the rest', async () => {
    const desk = await matched();
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    const first = { 'in.1/eq/2/gain': 3, 'in.1/fader/level': -11 };
    expect(staged()[0]!.settings).toEqual(first);
    expect(await screen.findByText(/Fader −3\.0 dB: as loud as it was\./)).toBeTruthy();
    desk(first);
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(2));
    expect(staged()[1]!.settings).toEqual({ 'in.1/eq/2/gain': 0, 'in.1/eq/4/gain': 4, 'in.1/fader/level': -9 });
    press('As it was');
    await waitFor(() => expect(staged()).toHaveLength(3));
    expect(staged()[2]!.settings).toEqual({ 'in.1/eq/2/gain': 0, 'in.1/eq/4/gain': 0, 'in.1/fader/level': -8 });
    // Only the strip alone is measured, each time as it was and with the preset.
    expect(server.sentTo('startRender').every((asked) => (asked as { solo: string }).solo === 'in.1')).toBe(true);
  });

  test("a fader that a hand moves meanwhile is the hand's: the next goes on from there, and that is what comes back", async () => {
    const desk = await matched();
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    desk({ 'in.1/eq/2/gain': 3, 'in.1/fader/level': -4 });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(2));
    expect(staged()[1]!.settings['in.1/fader/level']).toBe(-5);
    press('As it was');
    await waitFor(() => expect(staged()).toHaveLength(3));
    expect(staged()[2]!.settings['in.1/fader/level']).toBe(-4);
  });

  test('a loudness that takes long is not waited for: the preset is heard at once, and its level follows', async () => {
    let finish: (() => void) | undefined;
    const running = { id: 'render', status: 'running', done: 0, total: 1, why: '' };
    await matched({
      startRender: (asked: { settings?: SettingsByAddress }) =>
        asked.settings?.['in.1/eq/2/gain'] === 3 ? running : measured(asked),
      render: () => new Promise((resolve) => (finish = () => resolve(measured({ settings: { 'in.1/eq/2/gain': 3 } })))),
    });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1), { timeout: 3000 });
    expect(staged()[0]!.settings).toEqual({ 'in.1/eq/2/gain': 3 });
    finish!();
    await waitFor(() => expect(staged()).toHaveLength(2));
    expect(staged()[1]!.settings).toEqual({ 'in.1/eq/2/gain': 3, 'in.1/fader/level': -11 });
  });

  test('both sides are measured at once, each looked at until it has ended', async () => {
    const running = { status: 'running', done: 0, total: 1, why: '' };
    const looks: string[] = [];
    await matched({
      startRender: ({ settings }: { settings?: SettingsByAddress }) => ({
        ...running,
        id: settings?.['in.1/eq/2/gain'] === 3 ? 'with' : 'without',
      }),
      render: async (_: unknown, path: string) => {
        const id = path.split('/').at(-1)!;
        looks.push(id);
        await new Promise((resolve) => setTimeout(resolve, id === 'with' ? 60 : 20));
        const settings: SettingsByAddress = id === 'with' ? { 'in.1/eq/2/gain': 3 } : {};
        return { ...(looks.filter((one) => one === id).length < 3 ? running : measured({ settings })), id };
      },
    });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(staged()[0]!.settings).toEqual({ 'in.1/eq/2/gain': 3, 'in.1/fader/level': -11 });
    expect(looks.toSorted()).toEqual(['with', 'with', 'with', 'without', 'without', 'without']);
  });

  test('kept before its loudness is known, it stays as loud as it is', async () => {
    let finish: (() => void) | undefined;
    const running = { id: 'render', status: 'running', done: 0, total: 1, why: '' };
    await matched({
      startRender: running,
      cancelRender: running,
      render: () => new Promise((resolve) => (finish = () => resolve(measured({})))),
    });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1), { timeout: 3000 });
    press('Keep it');
    finish!();
    await waitFor(() => expect(screen.getByTestId('tried').textContent).toBe('Each is heard at once'));
    expect(staged()).toHaveLength(1);
  });

  test('a fader that ends before it has made up for it says how much is left', async () => {
    const desk = await matched({
      startRender: ({ settings }: { settings?: SettingsByAddress }) => {
        const answer = measured({});
        answer.measured.loudness.integrated = settings?.['in.1/eq/2/gain'] === 3 ? -41.5 : -20;
        return answer;
      },
    });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    // From −8 dB to the top of the range, +10 dB, are 18 of 21.5 dB.
    expect(staged()[0]!.settings['in.1/fader/level']).toBe(10);
    expect(
      await screen.findByText(/Fader \+18\.0 dB: that is as far as it goes, 3\.5 dB quieter than it was\./),
    ).toBeTruthy();
    desk({});
  });

  test.each<[string, Partial<DeskView>, SettingsByAddress, RegExp]>([
    [
      'safe',
      { safes: [{ strips: ['in.1'], sections: ['fader'] }] },
      {},
      /Its fader is safe, so its level is not matched\./,
    ],
    ['off', {}, { 'in.1/fader/level': -90 }, /Its fader is off, so its level is not matched\./],
  ])('a fader that is %s stays where it is, and that is said', async (_, more, settings, words) => {
    const desk = await matched({}, more);
    desk(settings);
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(staged()[0]!.settings).toEqual({ 'in.1/eq/2/gain': 3 });
    expect(await screen.findByText(words)).toBeTruthy();
  });

  test('switched off nothing is measured, and where it cannot be measured the preset is heard as loud as it is', async () => {
    await matched({ startRender: new Fault('disk-full', 'There is no space for it.', 'Make some.') });
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(await screen.findByText(/Its level could not be measured\./)).toBeTruthy();
    const asked = server.sentTo('startRender').length;
    fireEvent.click(screen.getByRole('checkbox', { name: /Level-matched/ }));
    press('Next preset');
    await waitFor(() => expect(staged()).toHaveLength(2));
    expect(server.sentTo('startRender')).toHaveLength(asked);
    expect(staged().map(({ settings }) => settings['in.1/fader/level'])).toEqual([undefined, undefined]);
  });
});

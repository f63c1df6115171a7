import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { DeskView } from '@old-echo/core/contracts/desk';
import type { NewStagedSettings, PresetDetail } from '@old-echo/core/contracts/preset';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { PutScreen } from '../../src/library/apply-screen';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, fallSilent, follow, isOff, show } from '../show';

// Curves are drawn by the charts, which are seen in the browser.
jest.mock('../../src/library/preset-charts', () => ({ PresetPictures: () => null }));

jest.setTimeout(60_000);

const voice = withSettings(defaultState(quay), {
  'in.9/eq/on': true,
  'in.9/eq/2/gain': 4,
  'in.9/fader/level': -3,
  'in.9/preamp/gain': 42,
  'in.9/label/name': 'Wren vox',
})['in.9']!;
const PRESET: PresetDetail = {
  id: '01PRESET000000000000000000',
  kind: 'strip',
  name: 'Wren’s voice',
  folder: '',
  tags: [],
  note: '',
  favourite: false,
  starts: false,
  profileId: 'quay-48',
  madeOn: 'Quay 48',
  gist: '',
  by: '',
  edition: 3,
  madeAt: '2026-11-25T20:00:00.000Z',
  binnedAt: null,
  revision: 1,
  content: { 'in.9': voice },
  earlier: [],
};

let server: FakeServer;
async function applying(
  params: Record<string, string>,
  settings: SettingsByAddress = {},
  preset = PRESET,
  desk: DeskView = { ...DESK, mode: 'live' },
) {
  router.navigate.mockClear();
  router.params = { desk: DESK.id, ...params };
  server = new FakeServer({
    profile: profileJson('quay-48'),
    desks: [desk],
    startRestore: new Fault('show-lock', 'The show is locked.', 'Unlock it first.'),
    preset,
    stems: [],
    stageSettings: (body: NewStagedSettings) => ({ ...body, id: '01STAGED000000000000000000' }),
  });
  follow(desk, withSettings(defaultState(quay), settings));
  show(<PutScreen />);
  await screen.findByTestId('onto-in.1');
}
const onto = (strip: string) => fireEvent.click(screen.getByTestId(`onto-${strip}`));
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));
const section = (name: string) => fireEvent.click(screen.getByRole('checkbox', { name: new RegExp(`${name}$`) }));
const staged = () => server.sentTo('stageSettings') as NewStagedSettings[];
const settings = () => staged()[0]?.settings ?? {};

describe('a preset onto strips', () => {
  test('the sound of it goes, and not its name, its colour or where it comes from', async () => {
    await applying({ preset: PRESET.id });
    onto('in.1');
    press('Preview 1 strip');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(settings()).toMatchObject({ 'in.1/eq/on': true, 'in.1/eq/2/gain': 4 });
    expect(Object.keys(settings()).filter((address) => /label|source|view/.test(address))).toEqual([]);
    expect(Object.keys(settings()).every((address) => address.startsWith('in.1/'))).toBe(true);
  });

  test('each strip knows what it came from, by preset and edition', async () => {
    await applying({ preset: PRESET.id });
    onto('in.1');
    onto('in.2');
    press('Preview 2 strips');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(staged()[0]?.appliedPresets).toEqual(
      ['in.1', 'in.2'].map((strip) => ({ strip, presetId: PRESET.id, edition: 3 })),
    );
    expect(router.navigate).toHaveBeenCalledWith(expect.stringContaining('01STAGED000000000000000000'));
  });

  test('in the studio it is applied at once, and its screen is left', async () => {
    await applying({ preset: PRESET.id }, {}, PRESET, DESK);
    onto('in.1');
    press('Apply to 1 strip');
    await waitFor(() => expect(router.navigate.mock.calls).toEqual([['/library']]));
    expect(server.sentTo('startRestore')).toEqual([
      expect.objectContaining({
        fingerprint: null,
        recall: expect.objectContaining({ stagedSettingsId: '01STAGED000000000000000000' }) as unknown,
      }),
    ]);
  });

  test('a section that is left out stays as it is', async () => {
    await applying({ preset: PRESET.id });
    onto('in.1');
    section('EQ');
    press('Preview 1 strip');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(Object.keys(settings()).some((address) => address.startsWith('in.1/eq/'))).toBe(false);
  });

  test('both halves of a linked pair are chosen together, and left together', async () => {
    await applying({ preset: PRESET.id }, { 'in.5/source/link': true });
    onto('in.5');
    expect(screen.getByRole('button', { name: 'Preview 2 strips' })).toBeTruthy();
    onto('in.6');
    expect(isOff(screen.getByRole('button', { name: 'Choose strips' }))).toBe(true);
  });

  test('a gain that was set for another source is pointed out before it is looked at', async () => {
    await applying({ preset: PRESET.id });
    expect(screen.queryByTestId('gain-check')).toBeNull();
    onto('in.1');
    await waitFor(() => expect(screen.getByTestId('gain-check').textContent).toContain('+42'));
    press('Preview 1 strip');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(staged()[0]?.gainFromOtherSource).toBe(true);
  });

  test('without a strip there is nothing to look at', async () => {
    await applying({ preset: PRESET.id });
    expect(isOff(screen.getByRole('button', { name: 'Choose strips' }))).toBe(true);
  });
});

describe('a strip of the desk onto others', () => {
  test('is not offered itself, and leaves no trace of a preset', async () => {
    await applying({ strip: 'in.3' }, { 'in.3/fader/level': -7, 'in.3/label/name': 'Tam vox' });
    expect(screen.queryByTestId('onto-in.3')).toBeNull();
    onto('in.4');
    press('Preview 1 strip');
    await waitFor(() => expect(staged()).toHaveLength(1));
    expect(staged()[0]).toMatchObject({ title: 'Tam vox on Input 4', appliedPresets: [] });
  });

  test('can be prepared from what was last heard while the desk does not answer', async () => {
    await applying({ strip: 'in.3' }, { 'in.3/fader/level': -7 });
    fallSilent();
    onto('in.4');
    expect(isOff(screen.getByRole('button', { name: 'Preview 1 strip' }))).toBe(false);
  });
});

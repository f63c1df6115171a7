import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { PresetView } from '@old-echo/core/contracts/preset';
import { Fault } from '@old-echo/core/fault/fault';

import { MixNoteSheet } from '../../src/combine/mix-note-sheet';
import { PresetSheet } from '../../src/components/presets/preset-sheet';
import { EditSceneForm } from '../../src/scenes/edit-scene-form';
import { ProductionForm } from '../../src/scenes/production-form';
import { VersionSheet } from '../../src/scenes/version-sheet';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { DESK, follow, PRODUCTION, SCENE, show } from '../show';

const version = PRODUCTION.versions[0]!;
const nothing = () => undefined;
const PRESET: PresetView = {
  id: '01PRES00000000000000000000',
  kind: 'strip',
  name: 'Wren, close',
  folder: '',
  tags: [],
  note: 'Soft.',
  favourite: false,
  starts: false,
  profileId: DESK.profileId,
  madeOn: DESK.name,
  by: '',
  madeAt: '2026-11-25T20:00:00.000Z',
  edition: 1,
  gist: '',
  binnedAt: null,
  revision: 3,
};
/** Each form, the field that is typed into, and what sends it. */
const FORMS = {
  'a scene': [<EditSceneForm key="scene" scene={SCENE} onDone={nothing} />, 'Note', 'Save', 'editScene'],
  'a song or show': [<ProductionForm key="production" onDone={nothing} />, 'Name', 'Create', 'createProduction'],
  'a version': [
    <VersionSheet key="version" production={PRODUCTION} version={version} open onClose={nothing} />,
    'Note',
    'Save',
    'editVersion',
  ],
  'a mix note': [
    <MixNoteSheet key="note" version={version} mixNote={null} strips={[]} onClose={nothing} />,
    'Note',
    'Add',
    'addMixNote',
  ],
  'a preset': [
    <PresetSheet key="preset" preset={PRESET} onClose={nothing} />,
    'Why it is set this way',
    'Save',
    'editPreset',
  ],
} as const;

let server: FakeServer;
function opened(form: keyof typeof FORMS, answers: Record<string, unknown> = {}) {
  server = new FakeServer({ desks: [DESK], ...answers });
  follow(DESK, {});
  const { unmount } = show(FORMS[form][0]);
  return unmount;
}
const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));
const HINT = 'What you typed before is still here.';

test.each(Object.keys(FORMS) as (keyof typeof FORMS)[])(
  'what was typed about %s survives leaving, says so, is gone once it was sent',
  async (form) => {
    const [, label, send, route] = FORMS[form];
    const leave = opened(form);
    expect(screen.queryByText(HINT)).toBeNull();
    fireEvent.change(field(label), { target: { value: 'Half a sent' } });
    leave();
    const again = opened(form, { [route]: new Fault('conflict', 'Not now.', 'Later.') });
    expect([field(label).value, screen.queryByText(HINT) !== null]).toEqual(['Half a sent', true]);
    // Refused, it is still there.
    press(send);
    await waitFor(() => expect(server.sentTo(route)).toHaveLength(1));
    expect(field(label).value).toBe('Half a sent');
    again();
    opened(form, { [route]: { ...SCENE, id: 'made' } });
    press(send);
    await waitFor(() => expect(store.getState().drafts).toEqual({}));
  },
);

test('one starts over where it is not wanted any more, and a cancelled form keeps nothing', () => {
  const leave = opened('a scene');
  fireEvent.change(field('Name'), { target: { value: 'Other' } });
  leave();
  const again = opened('a scene');
  press('Start over');
  expect([field('Name').value, screen.queryByText(HINT)]).toEqual([SCENE.name, null]);
  fireEvent.change(field('Name'), { target: { value: 'Other' } });
  press('Cancel');
  again();
  opened('a scene');
  expect(field('Name').value).toBe(SCENE.name);
});

test('a preset that someone else changed while one typed is not written over unasked; both readings are shown', async () => {
  const theirs = { ...PRESET, note: 'Softer still.', revision: 4 };
  server = new FakeServer({
    editPreset: (body: { revision: number }) =>
      body.revision === 4 ? { ...theirs, revision: 5 } : new Fault('conflict', 'Someone else changed it.', 'Look.'),
  });
  const { rerender } = show(<PresetSheet preset={PRESET} onClose={nothing} />);
  fireEvent.change(field('Why it is set this way'), { target: { value: 'Mine.' } });
  rerender(<PresetSheet preset={theirs} onClose={nothing} />);
  press('Save');
  expect(await screen.findByText('Now reads: Wren, close · “Softer still.”')).toBeTruthy();
  expect(field('Why it is set this way').value).toBe('Mine.');
  press('Save mine instead');
  await waitFor(() =>
    expect(server.sentTo('editPreset')).toMatchObject([{ revision: 3 }, { revision: 4, note: 'Mine.' }]),
  );
  await waitFor(() => expect(store.getState().drafts).toEqual({}));
});

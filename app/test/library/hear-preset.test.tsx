import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { PresetDetail } from '@old-echo/core/contracts/preset';
import type { RenderRequest } from '@old-echo/core/contracts/sound';
import { defaultState, withSettings } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { HearPreset } from '../../src/library/hear-preset';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, PRODUCTION, SCENE, show } from '../show';
import { stem } from '../stem';

jest.setTimeout(60_000);

const PRESET = {
  id: '01PRESET000000000000000000',
  kind: 'processor',
  name: 'Presence',
  content: { 'in.1': { 'eq/on': true, 'eq/3/gain': 4 } },
} as unknown as PresetDetail;
const STATE = withSettings(defaultState(quay), { 'in.1/label/name': 'Fiddle', 'in.2/label/name': 'Wren vox' });

let server: FakeServer;
function page(answers: Record<string, unknown> = {}) {
  server = new FakeServer({
    productions: [PRODUCTION],
    desks: [DESK],
    profile: profileJson('quay-48'),
    sceneState: STATE,
    stems: [stem('in.3', { silent: true }), stem('in.1'), stem('in.2')],
    startRender: new Fault('unavailable', 'Too much at once.', 'Try again.'),
    ...answers,
  });
  show(<HearPreset preset={PRESET} profile={quay} />);
}
const renders = () => server.sentTo('startRender') as RenderRequest[];

test('it is heard on the first stem that sounds, alone: A without the preset, B with it, and nothing is sent to a desk', async () => {
  page();
  fireEvent.click(await screen.findByRole('button', { name: /^Listen/ }));
  await waitFor(() => expect(renders()).toHaveLength(2));
  for (const one of renders()) expect(one).toMatchObject({ sceneId: SCENE.id, solo: 'in.1', output: 'main.1' });
  const [b, a] = [...renders()].sort(
    (one, other) => Number(other.settings !== undefined) - Number(one.settings !== undefined),
  );
  expect([a!.settings, b!.settings]).toEqual([undefined, { 'in.1/eq/on': true, 'in.1/eq/3/gain': 4 }]);
});

test('another strip is chosen among those that have a stem', async () => {
  page();
  fireEvent.click(await screen.findByText('On Fiddle'));
  expect(screen.getAllByRole('radio')).toHaveLength(2);
  fireEvent.click(screen.getByRole('radio', { name: /Wren vox/ }));
  fireEvent.click(await screen.findByRole('button', { name: /^Listen/ }));
  await waitFor(() => expect(renders()).toHaveLength(2));
  for (const one of renders()) expect(one.solo).toBe('in.2');
});

test('a song without stems says so, and leads to where they are attached', async () => {
  page({ stems: [] });
  expect(await screen.findByText('Night Ferry has no stems to hear it on.')).toBeTruthy();
  fireEvent.click(screen.getByRole('button', { name: 'Attach stems' }));
  expect(router.navigate).toHaveBeenCalledWith(`/mixes/${PRODUCTION.id}/stems`);
});

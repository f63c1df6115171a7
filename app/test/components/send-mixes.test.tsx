import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { VersionEdit } from '@old-echo/core/contracts/production';
import type { RenderView } from '@old-echo/core/contracts/sound';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { quay } from '@old-echo/testing/profiles';

import { SendMixesSheet } from '../../src/components/audition/send-mixes-sheet';
import type { Audition } from '../../src/components/audition/use-audition';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { PRODUCTION, SCENE, show } from '../show';

const [A, B] = ['01SIDEA0000000000000000000', '01SIDEB0000000000000000000'];
const MAIN = { ...PRODUCTION.versions[0]!, note: 'For the record.', status: 'working' as const, revision: 4 };
const EDIT = {
  ...MAIN,
  id: '01EDIT00000000000000000000',
  name: 'Broadcast edit',
  status: 'approved' as const,
  revision: 2,
};
const VIEWS = [{ id: 'a'.repeat(64) }, { id: 'b'.repeat(64) }] as unknown as readonly [RenderView, RenderView];

let server: FakeServer;
const assign = jest.fn<void, [string]>();
function sheet(versions: readonly [string, string] | null, answers: Record<string, unknown> = {}) {
  assign.mockClear();
  Object.defineProperty(window, 'location', { configurable: true, value: { assign, href: 'http://localhost/' } });
  server = new FakeServer({
    productions: [{ ...PRODUCTION, versions: [MAIN, EDIT] }],
    scene: (_: unknown, path: string) => ({ ...SCENE, versionId: versions![path.endsWith(A) ? 0 : 1] }),
    editVersion: {},
    ...answers,
  });
  const side = (sceneId: string) => ({ profile: quay, state: defaultState(quay), ...(versions ? { sceneId } : {}) });
  const audition = { productionId: PRODUCTION.id, a: side(A), b: side(B) } as unknown as Audition;
  const closed = jest.fn();
  show(<SendMixesSheet audition={audition} views={VIEWS} names={{ a: '7 Bold', b: '9 Calm' }} onClose={closed} />);
  return closed;
}
const send = (name = 'Download and mark as sent') => fireEvent.click(screen.getByRole('button', { name }));
const edits = () => server.sentTo('editVersion') as VersionEdit[];

test('in one step both are downloaded and their version says what was sent, when, and what was said with it', async () => {
  const closed = sheet([MAIN.id, MAIN.id]);
  await screen.findByText(new RegExp(`${MAIN.name} marked as sent`));
  fireEvent.change(screen.getByLabelText('Note, e.g. what to listen for'), { target: { value: 'The last chorus.' } });
  fireEvent.click(screen.getByRole('tab', { name: '16-bit' }));
  send();
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(edits()).toHaveLength(1);
  expect(edits()[0]).toMatchObject({ status: 'sent', revision: 4 });
  expect(edits()[0]!.note).toMatch(
    /^For the record\.\nSent \d{1,2} \w{3} \d{4}: A 7 Bold, B 9 Calm\. The last chorus\.$/,
  );
  const asked = new URL(assign.mock.calls[0]![0], 'http://localhost').searchParams;
  expect([asked.get('depth'), asked.getAll('file')]).toEqual([
    '16',
    [`${'a'.repeat(64)} A 7 Bold`, `${'b'.repeat(64)} B 9 Calm`],
  ]);
  // Both can be taken back: the version is as it was.
  expect(store.getState().notice.undo).toMatchObject({
    body: { status: 'working', note: 'For the record.', revision: 5 },
  });
});

test('of two versions each is marked, one that is approved stays approved', async () => {
  const closed = sheet([MAIN.id, EDIT.id]);
  await screen.findByText(new RegExp(`${MAIN.name} and ${EDIT.name} marked as sent`));
  send();
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect(edits().map(({ status }) => status)).toEqual(['sent', 'approved']);
});

test('where someone changed a version meanwhile nothing is downloaded, and what was typed stays', async () => {
  const closed = sheet([MAIN.id, MAIN.id], { editVersion: new Fault('conflict', 'Someone changed it.', 'Look.') });
  await screen.findByText(new RegExp(`${MAIN.name} marked as sent`));
  fireEvent.change(screen.getByLabelText('Note, e.g. what to listen for'), { target: { value: 'Kept.' } });
  send();
  await waitFor(() => expect(store.getState().notice.text).toContain('Someone changed it.'));
  expect([assign.mock.calls.length, closed.mock.calls.length]).toEqual([0, 0]);
  expect(screen.getByLabelText<HTMLInputElement>('Note, e.g. what to listen for').value).toBe('Kept.');
});

test('what is no scene has no version: it is only downloaded, and that is said', async () => {
  const closed = sheet(null);
  expect(screen.getByText('Neither is a scene, so no version is marked.')).toBeTruthy();
  send('Download both');
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect([edits(), assign.mock.calls.length]).toEqual([[], 1]);
});

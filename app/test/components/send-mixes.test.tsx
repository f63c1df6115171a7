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
import { isOff, PRODUCTION, SCENE, show } from '../show';

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
  expect(screen.getByText(/Neither is a scene, so no version is marked\.$/)).toBeTruthy();
  send('Download both');
  await waitFor(() => expect(closed).toHaveBeenCalled());
  expect([edits(), assign.mock.calls.length]).toEqual([[], 1]);
});

describe('as a link', () => {
  const LINK = { id: 'l', name: 'The band' };
  const made = { link: LINK, path: '/listen/T', addresses: ['https://192.0.2.7:4651/listen/T'] };
  const choose = async () => {
    await screen.findByText(new RegExp(`${MAIN.name}.* marked as sent`));
    fireEvent.click(screen.getByRole('tab', { name: 'As a link' }));
  };
  const type = (field: string, value: string) => fireEvent.change(screen.getByTestId(field), { target: { value } });

  test('in one step it is made, their version says whom it was sent to, and the address is shown', async () => {
    sheet([MAIN.id, MAIN.id], { makeClientLink: made });
    await choose();
    expect(isOff(screen.getByRole('button', { name: 'Make the link and mark as sent' }))).toBe(true);
    type('link-name', ' The band ');
    fireEvent.change(screen.getByLabelText('Note, e.g. what to listen for'), { target: { value: 'The bridge.' } });
    type('link-word', 'saltmarsh');
    fireEvent.click(screen.getByRole('tab', { name: '7 days' }));
    fireEvent.click(screen.getByRole('checkbox', { name: /Mixes may be saved/ }));
    send('Make the link and mark as sent');
    expect((await screen.findByTestId('link-address')).textContent).toBe(made.addresses[0]);
    expect(server.sentTo('makeClientLink')).toMatchObject([
      {
        ...{ name: 'The band', note: 'The bridge.', days: 7, word: 'saltmarsh', mayDownload: true },
        mixes: [
          { sound: 'a'.repeat(64), name: '7 Bold' },
          { sound: 'b'.repeat(64), name: '9 Calm' },
        ],
      },
    ]);
    await waitFor(() => expect(edits()).toHaveLength(1));
    expect(edits()[0]!.note).toMatch(
      /Sent \d{1,2} \w{3} \d{4} to The band as a link: A 7 Bold, B 9 Calm\. The bridge\.$/,
    );
  });

  test('that cannot be made marks nothing as sent, and says why', async () => {
    sheet([MAIN.id, MAIN.id], {
      makeClientLink: new Fault('conflict', 'A mix is not rendered.', 'Listen to it first.'),
    });
    await choose();
    type('link-name', 'The band');
    type('link-word', 'no');
    expect(isOff(screen.getByRole('button', { name: 'Make the link and mark as sent' }))).toBe(true);
    type('link-word', '');
    send('Make the link and mark as sent');
    await screen.findByText('A mix is not rendered.');
    expect(edits()).toEqual([]);
  });
});

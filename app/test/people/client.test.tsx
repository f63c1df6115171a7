import { act, fireEvent, screen, waitFor } from '@testing-library/react';

import type { ClientLinkView, ClientPage } from '@old-echo/core/contracts/client-link';
import { Fault } from '@old-echo/core/fault/fault';

import { ClientLinksScreen } from '../../src/people/client-links-screen';
import { ClientScreen } from '../../src/people/client-screen';
import { calledOneself } from '../../src/store/preferences-slice';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { isOff, PRODUCTION, show } from '../show';

const PAGE: ClientPage = {
  ...{ production: 'Lanterns on the Quay', name: 'The band', note: 'Listen to the bridge.', by: 'Rosa' },
  ...{ endsAt: '2027-01-01T00:00:00.000Z', mayDownload: false, favourite: null, approved: null },
  mixes: [
    { name: 'Static balance', loudness: -18.2, seconds: 32, overview: [0.1, 0.4] },
    { name: 'Fiddle forward', loudness: -16.9, seconds: 32, overview: [0.2, 0.5] },
  ],
  notes: [
    { id: 'n1', mix: 0, songSeconds: 65, text: 'More fiddle here', by: 'Tam', status: 'done' },
    { id: 'n2', mix: 1, songSeconds: null, text: 'Too bright', by: 'Tam', status: 'open' },
  ],
};
const button = (name: string | RegExp) => screen.getByRole('button', { name });
const press = (name: string | RegExp) => fireEvent.click(button(name));
const type = (field: string, value: string) =>
  act(() => void fireEvent.change(screen.getByTestId(field), { target: { value } }));

beforeAll(() => {
  // The simulated browser plays nothing.
  Object.assign(globalThis, {
    AudioContext: class {
      close = () => Promise.resolve();
      createGain = () => ({
        gain: {
          value: 0,
          cancelScheduledValues: () => undefined,
          setValueAtTime: () => undefined,
          linearRampToValueAtTime: () => undefined,
        },
        connect: () => undefined,
      });
      decodeAudioData = () => new Promise(() => undefined);
    },
  });
});
beforeEach(() => {
  router.params = { token: 'T', production: PRODUCTION.id };
  act(() => void store.dispatch(calledOneself('')));
});

describe('the page of a link', () => {
  test('asks for nothing else while the mixes load, so that nothing that is not for clients is refused meanwhile', async () => {
    const server = new FakeServer({ clientPage: () => new Promise(() => undefined) });
    show(<ClientScreen />);
    expect(await screen.findByText('Loading the mixes …')).toBeTruthy();
    expect(server.asked.map(({ name }) => name)).toEqual(['clientPage']);
  });

  test('shows what is heard, from whom and until when, and how many notes were answered', async () => {
    new FakeServer({ clientPage: PAGE, clientPiece: {} });
    show(<ClientScreen />);
    await screen.findByText('Lanterns on the Quay');
    expect(screen.getByText('For The band · from Rosa · until 1 Jan 2027')).toBeTruthy();
    expect(button(/^B\s+Fiddle forward/)).toBeTruthy();
    expect(screen.getByText('−16.9 LUFS')).toBeTruthy();
    expect(screen.getByText('2 notes, 1 of 2 done')).toBeTruthy();
    expect(screen.getByText('1:05 · A · Tam · done')).toBeTruthy();
    expect(screen.queryByRole('button', { name: 'Save A' })).toBeNull();
  });

  test('takes nothing from who does not say who they are; then a note, a favourite and an approval', async () => {
    const server = new FakeServer({
      clientPage: PAGE,
      addClientNote: { ...PAGE, notes: [] },
      choose: (choice: { approved?: number }) => ({
        ...PAGE,
        approved: choice.approved === 1 ? { mix: 1, by: 'Tam' } : null,
      }),
    });
    show(<ClientScreen />);
    await screen.findByText('Lanterns on the Quay');
    type('client-note', 'Less reverb');
    for (const name of ['Note it at 0:00', 'Approve A']) expect(isOff(button(name))).toBe(true);
    type('client-name', 'Tam');
    press('Note it at 0:00');
    await waitFor(() =>
      expect(server.sentTo('addClientNote')).toEqual([{ mix: 0, songSeconds: 0, text: 'Less reverb', name: 'Tam' }]),
    );
    await waitFor(() => expect(screen.getByTestId<HTMLTextAreaElement>('client-note').value).toBe(''));
    fireEvent.click(screen.getByRole('tab', { name: 'B' }));
    await waitFor(() => expect(server.sentTo('choose')).toEqual([{ favourite: 1, name: 'Tam' }]));
    press('Approve B');
    press('Approve');
    await screen.findByText('Fiddle forward is approved by Tam.');
    press('Take the approval back');
    await waitFor(() => expect(server.sentTo('choose').at(-1)).toEqual({ approved: null, name: 'Tam' }));
  });

  test('asks for a word where the link has one, and goes on once it is said', async () => {
    const asks = new Fault('wrong-secret', 'This link asks for a word.', 'Whoever sent it knows it.');
    const server = new FakeServer({
      clientPage: asks,
      sayWord: new Fault('wrong-secret', 'This is not the word.', 'Try again.'),
    });
    show(<ClientScreen />);
    await screen.findByTestId('client-word');
    expect(isOff(button('Listen'))).toBe(true);
    type('client-word', 'harbour');
    press('Listen');
    await screen.findByText('This is not the word.');
    server.change({ sayWord: PAGE });
    press('Listen');
    await screen.findByText('Lanterns on the Quay');
  });

  test('says where it has ended', async () => {
    new FakeServer({ clientPage: new Fault('not-found', 'This link leads nowhere any more.', 'Ask for another one.') });
    show(<ClientScreen />);
    expect(await screen.findByText('This link leads nowhere any more.')).toBeTruthy();
  });

  test('with one mix speaks of no other', async () => {
    new FakeServer({ clientPage: { ...PAGE, mixes: PAGE.mixes.slice(0, 1), notes: [] } });
    show(<ClientScreen />);
    await screen.findByText('Lanterns on the Quay');
    expect(button('Approve this mix')).toBeTruthy();
    expect(screen.queryByText('Which do you like better?')).toBeNull();
    expect(screen.queryByText('As loud as one another')).toBeNull();
  });
});

describe('the links of a song or show', () => {
  const LINK: ClientLinkView = {
    ...{ id: 'l1', name: 'The band', note: '', asksWord: true, mayDownload: false, by: 'Rosa' },
    mixes: ['Static balance', 'Fiddle forward'].map((name) => ({ name, sound: 'a'.repeat(64), sceneId: null })),
    ...{ madeAt: '2026-11-25T19:00:00.000Z', endsAt: '2999-01-01T00:00:00.000Z', withdrawnAt: null },
    ...{ opened: 2, openedAt: '2026-11-25T20:00:00.000Z', notes: 1 },
    ...{ favourite: { mix: 1, by: 'Tam' }, approved: null },
  };
  const open = async (links: ClientLinkView[], more: object = {}) => {
    const server = new FakeServer({ productions: [PRODUCTION], clientLinks: links, ...more });
    show(<ClientLinksScreen />);
    await screen.findByText('Links for clients');
    return server;
  };

  test('say who opened them and what they said; one is withdrawn once it was asked', async () => {
    const withdrawn = { ...LINK, withdrawnAt: '2026-11-26T00:00:00.000Z' };
    const server = await open([LINK], { withdrawClientLink: withdrawn });
    await screen.findByText('Tam likes Fiddle forward better.');
    expect(screen.getByText(/^opened 2 times, last .* · 1 note · asks for a word$/)).toBeTruthy();
    server.change({ clientLinks: [withdrawn] });
    press('Withdraw …');
    press('Cancel');
    expect(server.sentTo('withdrawClientLink')).toEqual([]);
    press('Withdraw …');
    press('Withdraw');
    await screen.findByText('withdrawn');
    expect(screen.queryByRole('button', { name: 'Withdraw …' })).toBeNull();
  });

  test('get another address once it was asked, which is shown once', async () => {
    const made = { link: LINK, path: '/listen/T', addresses: ['https://192.0.2.7:4651/listen/T'] };
    const server = await open([LINK], { renewClientLink: made });
    fireEvent.click(await screen.findByRole('button', { name: 'New address …' }));
    expect(screen.getByText(/^The address that was sent leads nowhere from then on/)).toBeTruthy();
    expect(server.sentTo('renewClientLink')).toEqual([]);
    press('Make a new address');
    expect((await screen.findByTestId('link-address')).textContent).toBe('https://192.0.2.7:4651/listen/T');
  });

  test('are none at first, which says how one is made', async () => {
    await open([]);
    expect(await screen.findByText('No link was made yet')).toBeTruthy();
  });
});

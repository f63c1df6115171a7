import { fireEvent, screen, waitFor, within } from '@testing-library/react';

import type {
  ConversionPreview,
  ConversionRequest,
  NamedMatch,
  StartConversion,
} from '@old-echo/core/contracts/conversion';
import { Fault } from '@old-echo/core/fault/fault';
import { profileJson } from '@old-echo/testing/profiles';

import { ConvertScreen } from '../../src/library/convert-screen';
import { store } from '../../src/store/store';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, isOff, PRODUCTION, show } from '../show';

jest.setTimeout(60_000);

const SKIFF = { ...DESK, id: '01SKIFF0000000000000000000', name: 'Skiff 16', profileId: 'skiff-16' };
const BOATHOUSE = { ...DESK, id: '01BOAT00000000000000000000', name: 'Boathouse', profileId: 'boathouse' };
const THERE = { ...PRODUCTION, id: '01THERE0000000000000000000', name: 'Quayside busking', deskId: SKIFF.id };

/** Three strips, of which each stands on its own number unless someone decided otherwise. */
const preview = ({ hands }: ConversionRequest): ConversionPreview => {
  const names = ['Wren vox', 'Tam vox', 'Fiddle'];
  const matches = names.map((fromName, i): NamedMatch => {
    const from = `in.${i + 1}`;
    const hand = hands[from];
    const to = hand === undefined ? from : hand;
    return { from, to, why: hand === undefined ? 'name' : 'hand', fromName, fromPart: null, toName: to ?? '' };
  });
  return { matches, lines: [], scenes: 4, settings: 100 };
};

let server: FakeServer;
async function converting(answers: Record<string, unknown> = {}) {
  router.replace.mockClear();
  router.params = { production: PRODUCTION.id };
  server = new FakeServer({
    profile: profileJson('skiff-16'),
    desks: [DESK, SKIFF, BOATHOUSE],
    productions: [PRODUCTION, THERE],
    previewConversion: preview,
    startConversion: { id: '01CONV00000000000000000000' },
    ...answers,
  });
  show(<ConvertScreen />);
  await screen.findByText('Carry over to another desk');
}
const tab = (name: string) => fireEvent.click(screen.getByRole('tab', { name }));
const lastPreview = () => (server.sentTo('previewConversion') as ConversionRequest[]).at(-1);
const started = () => server.sentTo('startConversion') as StartConversion[];
/** Decides where a strip goes. */
async function send(from: string, choice: string | RegExp) {
  const row = await screen.findByTestId(`match-${from}`);
  fireEvent.click(within(row).getByRole('button', { name: /goes to/ }));
  fireEvent.click(within(await screen.findByRole('dialog', { name: /goes to$/ })).getByRole('radio', { name: choice }));
}

test('nothing is asked or made before a desk is chosen, and the own one is not offered', async () => {
  await converting();
  expect(screen.queryByRole('tab', { name: 'Quay 48' })).toBeNull();
  expect(isOff(screen.getByRole('button', { name: 'Choose a desk' }))).toBe(true);
  expect(server.sentTo('previewConversion')).toEqual([]);
});

test('the matches are seen before anything is made; nothing is sent to the desk', async () => {
  await converting();
  tab('Skiff 16');
  expect(await screen.findByText('Creates scenes for Skiff 16. Nothing is sent to it.')).toBeTruthy();
  expect(lastPreview()).toMatchObject({ deskId: SKIFF.id, hands: {}, withPatch: false });
  expect(started()).toEqual([]);
});

test('sections can stay behind, but not all of them', async () => {
  await converting();
  tab('Skiff 16');
  fireEvent.click(await screen.findByText('Sections'));
  fireEvent.click(await screen.findByRole('checkbox', { name: '● EQ' }));
  await waitFor(() => expect(lastPreview()).toMatchObject({ without: ['eq'] }));
  for (const one of screen.getAllByRole('checkbox', { checked: true }))
    if (one.textContent.startsWith('●')) fireEvent.click(one);
  fireEvent.keyDown(document.body, { key: 'Escape' });
  expect(isOff(await screen.findByRole('button', { name: /^Carry over|^Choose a desk/ }))).toBe(true);
  fireEvent.click(screen.getByText('Sections'));
  fireEvent.click(await screen.findByRole('button', { name: 'All' }));
  await waitFor(() => expect(lastPreview()).toMatchObject({ without: [] }));
});

describe('a match that someone decides', () => {
  test('takes the place of another, which is matched again', async () => {
    await converting();
    tab('Skiff 16');
    await send('in.1', /^Input 3/);
    await waitFor(() => expect(lastPreview()?.hands).toEqual({ 'in.1': 'in.3' }));
    await send('in.2', /^Input 3/);
    await waitFor(() => expect(lastPreview()?.hands).toEqual({ 'in.2': 'in.3' }));
  });

  test('leaves a strip behind; a second that is left behind does not bring the first back', async () => {
    await converting();
    tab('Skiff 16');
    await send('in.1', 'Leave behind');
    await waitFor(() => expect(lastPreview()?.hands).toEqual({ 'in.1': null }));
    await send('in.2', 'Leave behind');
    await waitFor(() => expect(lastPreview()?.hands).toEqual({ 'in.1': null, 'in.2': null }));
    expect(await screen.findByText('2 strips')).toBeTruthy();
  });

  test('is forgotten with another desk: its strips are others', async () => {
    await converting();
    tab('Skiff 16');
    await send('in.1', 'Leave behind');
    await waitFor(() => expect(lastPreview()?.hands).toEqual({ 'in.1': null }));
    tab('Boathouse');
    await waitFor(() => expect(lastPreview()).toMatchObject({ deskId: BOATHOUSE.id, hands: {} }));
  });
});

test('it begins as it was seen, into a song or show that is there where that is chosen', async () => {
  await converting();
  tab('Skiff 16');
  await send('in.3', 'Leave behind');
  tab('Quayside busking');
  fireEvent.click(screen.getByTestId('with-patch'));
  const go = await screen.findByRole('button', { name: 'Carry over 4 scenes' });
  await waitFor(() => expect(isOff(go)).toBe(false));
  fireEvent.click(go);
  await waitFor(() => expect(started()).toHaveLength(1));
  expect(started()[0]).toMatchObject({ hands: { 'in.3': null }, intoId: THERE.id, withPatch: true, deskId: SKIFF.id });
  await waitFor(() => expect(router.replace).toHaveBeenCalledWith('/convert/01CONV00000000000000000000'));
});

test('what cannot be matched says why, and can be asked again', async () => {
  await converting({ previewConversion: new Fault('not-found', 'It has no scene yet.', 'Capture one first.') });
  tab('Skiff 16');
  expect(await screen.findByText('It has no scene yet.')).toBeTruthy();
  expect(isOff(screen.getByRole('button', { name: 'Choose a desk' }))).toBe(true);
  server.change({ previewConversion: preview });
  fireEvent.click(screen.getByRole('button', { name: 'Try again' }));
  expect(await screen.findByRole('button', { name: 'Carry over 4 scenes' })).toBeTruthy();
});

test('a refusal to begin is said, and the choices stand', async () => {
  await converting({ startConversion: new Fault('conflict', 'It is at work already.', 'Wait for its end.') });
  tab('Skiff 16');
  await send('in.1', 'Leave behind');
  const go = await screen.findByRole('button', { name: 'Carry over 4 scenes' });
  await waitFor(() => expect(isOff(go)).toBe(false));
  fireEvent.click(go);
  await waitFor(() => expect(store.getState().notice.text).toBe('It is at work already. Wait for its end.'));
  expect(within(screen.getByTestId('match-in.1')).getByText('left behind, your choice')).toBeTruthy();
});

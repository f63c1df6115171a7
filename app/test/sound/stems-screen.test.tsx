import { act, cleanup, fireEvent, screen } from '@testing-library/react';

import { defaultState } from '@old-echo/core/desk/state';
import { profileJson, quay } from '@old-echo/testing/profiles';

import { StemsScreen } from '../../src/sound/stems-screen';
import { store } from '../../src/store/store';
import { sendFile } from '../../src/store/upload-file';
import { chooseFiles } from '../../src/ui/choose-files';
import { FakeServer } from '../fake-server';
import { router } from '../router';
import { DESK, follow, PRODUCTION, show } from '../show';
import { stem } from '../stem';

jest.mock('../../src/ui/choose-files', () => ({ chooseFiles: jest.fn() }));
jest.mock('../../src/store/upload-file', () => ({ sendFile: jest.fn() }));

function open(stems: readonly object[]): void {
  router.params = { production: PRODUCTION.id };
  new FakeServer({ productions: [PRODUCTION], desks: [DESK], profile: profileJson('quay-48'), stems });
  follow({ ...DESK, id: PRODUCTION.deskId }, defaultState(quay));
  show(<StemsScreen />);
}

test('a stem says where it begins; one that is gone from the disk says that it is not heard, and what to do', async () => {
  open([stem('in.1', { start: 72 }), stem('in.2', { missing: true }), stem('in.3')]);
  expect(await screen.findByText(/^in\.1\.wav · begins at 1:12 · 32\.0 s/)).toBeTruthy();
  expect(screen.getByText('in.2.wav is missing on the disk, so it is not heard. Attach it again.')).toBeTruthy();
  expect(screen.getByText(/^in\.3\.wav · 32\.0 s · 48 kHz/)).toBeTruthy();
});

describe('many files at once', () => {
  /** What was sent, and how each ends. */
  const sent: { name: string; end: (result: { answer: unknown } | { why: string } | null) => Promise<void> }[] = [];
  beforeEach(() => {
    sent.length = 0;
    jest.mocked(sendFile).mockImplementation(({ file }) => {
      let end: (result: { answer: unknown } | { why: string } | null) => void = () => undefined;
      const ended = new Promise<{ answer: unknown } | { why: string } | null>((resolve) => (end = resolve));
      sent.push({ name: file.name, end: (result) => act(async () => Promise.resolve(end(result))) });
      return { ended, abort: () => end(null) };
    });
  });
  afterEach(async () => {
    const cancel = screen.queryByRole('button', { name: 'Cancel all' });
    if (cancel) await act(async () => Promise.resolve(fireEvent.click(cancel)));
    for (const { end } of [...sent]) await end(null);
  });
  const file = (name: string) => new File(['sound'], name, { lastModified: 1000 });
  const press = (name: string | RegExp) =>
    act(async () => Promise.resolve(fireEvent.click(screen.getByRole('button', { name }))));
  async function attach(...names: string[]): Promise<void> {
    await screen.findByText('Stems');
    await press('Attach files');
    const [, chosen] = jest.mocked(chooseFiles).mock.lastCall!;
    await act(async () => Promise.resolve(chosen(names.map(file))));
  }
  const names = () => sent.map(({ name }) => name);

  test('go two at a time, with how many are through; what is here already is not sent again', async () => {
    open([
      stem('in.1', { name: '1.wav', cameFrom: { bytes: 5, modified: 1000 } }),
      stem('in.2', { name: '2.wav', cameFrom: { bytes: 5, modified: 999 } }),
    ]);
    await attach('1.wav', '2.wav', '3.wav', '4.wav');
    expect(screen.getByText('1 file here already, not sent again.')).toBeTruthy();
    expect(names()).toEqual(['2.wav', '3.wav']);
    expect(screen.getByText('0 of 3 files attached')).toBeTruthy();
    expect(screen.getByTestId('stem-in.4').textContent).toContain('4.wav: waits');
    await sent[1]!.end({ answer: [] });
    expect(names()).toEqual(['2.wav', '3.wav', '4.wav']);
    expect(screen.getByText('1 of 3 files attached')).toBeTruthy();
    await sent[0]!.end({ answer: [] });
    expect(screen.getByText('2 of 3 files attached')).toBeTruthy();
    await sent[2]!.end({ answer: [] });
    expect(screen.queryByText(/files attached$/)).toBeNull();
    expect(store.getState().notice.text).toBe('3 stems attached.');
  });

  test('go on while another screen is open, and are still seen and cancelled when one is back; closing the page asks first', async () => {
    const isAsked = () => !window.dispatchEvent(new Event('beforeunload', { cancelable: true }));
    open([]);
    expect(isAsked()).toBe(false);
    await attach('1.wav', '2.wav', '3.wav', '4.wav');
    cleanup();
    await sent[0]!.end({ answer: [] });
    expect([names(), isAsked()]).toEqual([['1.wav', '2.wav', '3.wav'], true]);
    open([]);
    expect(await screen.findByText('1 of 4 files attached')).toBeTruthy();
    expect(screen.getByTestId('stem-in.4').textContent).toContain('4.wav: waits');
    await press('Cancel all');
    expect([names(), isAsked()]).toEqual([['1.wav', '2.wav', '3.wav'], false]);
    expect(screen.getByTestId('stem-in.3').textContent).toContain('No stem');
  });

  test('those that broke off are tried again at one touch, and only those', async () => {
    open([]);
    await attach('1.wav', '2.wav', '3.wav');
    await sent[0]!.end({ answer: [] });
    await sent[1]!.end({ why: 'Can’t reach the server.' });
    expect(screen.getByText('1 of 3 files attached')).toBeTruthy();
    await sent[2]!.end({ why: 'Can’t reach the server.' });
    expect(screen.getByText('2 files could not be attached.')).toBeTruthy();
    await press('Try them again');
    await sent[3]!.end({ answer: [] });
    expect(names()).toEqual(['1.wav', '2.wav', '3.wav', '2.wav', '3.wav']);
  });

  test('all of them, or one that waits, are cancelled', async () => {
    open([]);
    await attach('1.wav', '2.wav', '3.wav', '4.wav');
    await press(/^Cancel .*3$/);
    expect(screen.getByText('0 of 3 files attached')).toBeTruthy();
    await press('Cancel all');
    expect(names()).toEqual(['1.wav', '2.wav']);
    expect(screen.getByTestId('stem-in.4').textContent).toContain('No stem');
    // Others can be attached afterwards.
    await attach('5.wav');
    expect(names()).toEqual(['1.wav', '2.wav', '5.wav']);
  });

  test('one that is on its way is cancelled, and the next goes', async () => {
    open([]);
    await attach('1.wav', '2.wav', '3.wav', '4.wav');
    await press(/^Cancel .*1$/);
    expect(names()).toEqual(['1.wav', '2.wav', '3.wav']);
    expect(screen.getByTestId('stem-in.1').textContent).toContain('No stem');
    expect(screen.getByTestId('stem-in.4').textContent).toContain('4.wav: waits');
  });

  test('another file for a strip breaks off the one that is on its way there; of those that waited only the last goes', async () => {
    open([]);
    await attach('1.wav', '2.wav', '3.wav');
    for (const name of ['3_louder.wav', '3_best.wav', '1_best.wav']) await attach(name);
    expect(screen.getByTestId('stem-in.1').textContent).toContain('1_best.wav');
    expect(names()).toEqual(['1.wav', '2.wav', '3_best.wav']);
    expect(screen.getByText('0 of 3 files attached')).toBeTruthy();
    await sent[2]!.end({ answer: [] });
    expect(names()).toEqual(['1.wav', '2.wav', '3_best.wav', '1_best.wav']);
    for (const one of [1, 3]) await sent[one]!.end({ answer: [] });
    expect(screen.queryByText(/files attached$/)).toBeNull();
    expect(screen.getByTestId('stem-in.1').textContent).toContain('No stem');
  });

  test('of two files that mean one strip the second waits to be told where it goes', async () => {
    open([]);
    await attach('1.wav', '1_best.wav');
    expect(names()).toEqual(['1.wav']);
    expect(screen.getByText(/1_best\.wav/)).toBeTruthy();
  });
});

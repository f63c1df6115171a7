import { fireEvent, screen, waitFor } from '@testing-library/react';

import type { NewBlindTest, RenderView } from '@old-echo/core/contracts/sound';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { MAX_TRIALS, MIN_TRIALS } from '@old-echo/core/sound/blind-test';
import { quay } from '@old-echo/testing/profiles';

import type { AbPlayer, AbSide } from '../../src/components/audition/ab-player';
import { BlindTestSheet } from '../../src/components/audition/blind-test-sheet';
import { newListeningSpot } from '../../src/components/audition/listening-spot';
import { type Audition, loudnessDifferenceLu } from '../../src/components/audition/use-audition';
import { FakeServer } from '../fake-server';
import { isOff, PRODUCTION, show } from '../show';

jest.mock('@old-echo/core/sound/blind-test', () => ({
  ...jest.requireActual<object>('@old-echo/core/sound/blind-test'),
  // Two hundred would take long to press.
  MAX_TRIALS: 12,
}));

jest.setTimeout(30_000);

const [A, B] = ['01SIDEA0000000000000000000', '01SIDEB0000000000000000000'];
const side = (sceneId: string) => ({ sceneId, profile: quay, state: defaultState(quay) });
const mix = { view: undefined, fault: undefined, cancel: () => undefined };
const audition: Audition = {
  productionId: PRODUCTION.id,
  stems: 8,
  a: side(A),
  b: side(B),
  mixA: mix,
  mixB: mix,
  heard: { output: 'main.1', solo: null, law: 'constant power' },
  choose: () => undefined,
  stale: false,
  listening: true,
  hearing: 'A',
  hear: () => undefined,
  listen: () => undefined,
  missing: 0,
  spot: newListeningSpot(),
  range: null,
  repeat: () => undefined,
};

let server: FakeServer;
/** Which of both was let be heard, in order. */
let heard: AbSide[];
/** What X will be. */
let next: AbSide;
function blindly(first: AbSide, answers: Record<string, unknown> = {}) {
  heard = [];
  next = first;
  let drawn = 0;
  // Never the same twice: requests are told apart by such numbers too.
  jest.spyOn(Math, 'random').mockImplementation(() => (next === 'A' ? 0.1 : 0.6) + (drawn++ % 300) / 1000);
  server = new FakeServer({ saveBlindTest: {}, blindTests: [], ...answers });
  const players: Pick<AbPlayer, 'hear' | 'play' | 'pause' | 'playing'> = {
    hear: (which) => void heard.push(which),
    play: () => Promise.resolve(),
    pause: () => undefined,
    playing: true,
  };
  show(
    <BlindTestSheet players={players as AbPlayer} audition={audition} part="0:04 to 0:12" onClose={() => undefined} />,
  );
}
afterEach(() => jest.restoreAllMocks());
const press = (name: string) => fireEvent.click(screen.getByRole('button', { name }));
const hear = (what: string) => fireEvent.click(screen.getByRole('tab', { name: `Hear ${what}` }));
const sent = () => server.sentTo('saveBlindTest') as NewBlindTest[];
/** Says what X is; after that it is drawn to be `then`. */
const say = (what: AbSide, then: AbSide = next) => {
  next = then;
  press(`X is ${what}`);
};

test('X is the one that was drawn, and A and B are themselves', () => {
  blindly('B');
  for (const what of ['X', 'A', 'B']) hear(what);
  expect(heard).toEqual(['B', 'A', 'B']);
});

test('X is drawn anew for each answer', () => {
  blindly('A');
  say('A', 'B');
  say('A', 'A');
  expect(heard).toEqual(['B', 'A']);
});

test('whether one was right is not told before the end, nor before there are enough answers', () => {
  blindly('A');
  for (let i = 0; i < MIN_TRIALS - 1; i++) {
    expect(isOff(screen.getByRole('button', { name: `${MIN_TRIALS - i} more before a result` }))).toBe(true);
    press('X is A');
    expect(screen.queryByTestId('blind-result')).toBeNull();
  }
  press('X is B');
  expect(isOff(screen.getByRole('button', { name: 'Show the result' }))).toBe(false);
});

test('the result counts the answers that were right, and every answer is kept with what was compared', async () => {
  blindly('A');
  say('B', 'B');
  for (let i = 1; i < MIN_TRIALS; i++) say(next, i % 2 === 0 ? 'B' : 'A');
  press('Show the result');
  expect(screen.getByTestId('blind-result').textContent).toContain(`${MIN_TRIALS - 1} of ${MIN_TRIALS} right`);
  await waitFor(() => expect(sent()).toHaveLength(1));
  expect(sent()[0]).toMatchObject({ productionId: PRODUCTION.id, a: A, b: B });
  expect(sent()[0]?.trials[0]).toEqual({ hidden: 'A', said: 'B' });
  expect(sent()[0]?.trials).toHaveLength(MIN_TRIALS);
  expect(sent()[0]?.heard).toContain('0:04 to 0:12');
});

test('once the result is shown, nothing more is answered', () => {
  blindly('A');
  for (let i = 0; i < MIN_TRIALS; i++) press('X is A');
  press('Show the result');
  expect(isOff(screen.getByRole('button', { name: 'X is A' }))).toBe(true);
  expect(isOff(screen.getByRole('button', { name: 'X is B' }))).toBe(true);
});

test('no more is answered than is kept', () => {
  blindly('A');
  const isA = screen.getByRole('button', { name: 'X is A' });
  for (let i = 0; i < MAX_TRIALS; i++) fireEvent.click(isA);
  expect(isOff(screen.getByRole('button', { name: 'X is A' }))).toBe(true);
  expect(isOff(screen.getByRole('button', { name: 'Show the result' }))).toBe(false);
});

test('a result that could not be saved says so, and is shown all the same', async () => {
  blindly('A', { saveBlindTest: new Fault('unavailable', 'The database does not answer.', 'Try again.') });
  for (let i = 0; i < MIN_TRIALS; i++) press('X is A');
  press('Show the result');
  expect(await screen.findByText('It could not be saved: The database does not answer.')).toBeTruthy();
  expect(screen.getByTestId('blind-result').textContent).toContain(`${MIN_TRIALS} of ${MIN_TRIALS} right`);
});

test('how much louder B is than A is B over A, and not told before both are measured', () => {
  const measured = (integrated: number | null) =>
    ({ status: 'done', measured: { loudness: { integrated } } }) as unknown as RenderView;
  expect(loudnessDifferenceLu(measured(-23), measured(-20))).toBe(3);
  expect(loudnessDifferenceLu(measured(-20), measured(-23))).toBe(-3);
  expect(loudnessDifferenceLu(measured(-23), undefined)).toBeUndefined();
  expect(loudnessDifferenceLu(measured(-23), { ...measured(-20), status: 'running' })).toBeUndefined();
  expect(loudnessDifferenceLu(measured(null), measured(-20))).toBeUndefined();
});

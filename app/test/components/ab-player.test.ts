import { HALVED_HEADER, MIX_RATE, PIECE_SECONDS } from '@old-echo/core/contracts/sound';

import { AbPlayer, type AbSide } from '../../src/components/audition/ab-player';

/** A piece of sound as the browser has it: which mix, which sample of the song it begins with, how many. */
interface FakeSound {
  readonly letter: string;
  readonly song: number;
  readonly length: number;
}

/** A sound at work, with what it was told. */
interface Playing extends FakeSound {
  /** The context's sample at which it begins. */
  readonly at: number;
  readonly level: () => number;
  stopped: boolean;
}

const SECONDS = 90;
const PIECE = PIECE_SECONDS * MIX_RATE;

/** A loudspeaker that remembers what it plays; its clock is moved by hand. */
class FakeContext {
  currentTime = 0;
  readonly destination = {};
  readonly playing: Playing[] = [];
  /** How long levels took to go over, in seconds. */
  readonly fades: number[] = [];
  private awake: () => void = () => undefined;
  private asleep: Promise<void> = Promise.resolve();

  /** From now on it starts only once it is woken. */
  sleep(): void {
    this.asleep = new Promise((resolve) => (this.awake = resolve));
  }
  wake = (): void => this.awake();
  resume = (): Promise<void> => this.asleep;

  readonly createGain = () => {
    const gain = {
      value: 0,
      cancelScheduledValues: () => undefined,
      setValueAtTime: () => undefined,
      linearRampToValueAtTime: (value: number, at: number) => {
        gain.value = value;
        this.fades.push(at - this.currentTime);
      },
    };
    return { gain, connect: () => undefined, disconnect: () => undefined };
  };

  readonly decodeAudioData = ({ letter, piece }: { letter: string; piece: number }) => {
    const song = piece * PIECE;
    return Promise.resolve(soundOf({ letter, song, length: Math.min(PIECE, SECONDS * MIX_RATE - song) }));
  };

  readonly createBuffer = (_channels: number, length: number) => {
    const made = { letter: '', song: 0, length };
    return Object.assign(made, {
      copyToChannel: (from: { of: FakeSound; from: number }) =>
        Object.assign(made, { letter: from.of.letter, song: from.of.song + from.from }),
    });
  };

  readonly createBufferSource = () => {
    let gain = { value: 0 };
    const source = {
      buffer: { letter: '', song: 0, length: 0 },
      onended: null as (() => void) | null,
      connect: (node: { gain: { value: number } }) => {
        ({ gain } = node);
        return node;
      },
      start: (at: number) => {
        const { letter, song, length } = source.buffer;
        const one: Playing = {
          letter,
          song,
          length,
          at: Math.round(at * MIX_RATE),
          stopped: false,
          level: () => gain.value,
        };
        this.playing.push(one);
        source.stop = () => void (one.stopped = true);
      },
      stop: (): void => undefined,
    };
    return source;
  };

  get now(): readonly Playing[] {
    return this.playing.filter(({ stopped }) => !stopped);
  }
}

/** Just what is asked of a sound. */
const soundOf = (sound: FakeSound) => ({
  ...sound,
  numberOfChannels: 1,
  sampleRate: MIX_RATE,
  getChannelData: () => ({
    length: 0,
    subarray: (from: number) => ({ of: sound, from }),
  }),
});

let context: FakeContext;
let player: AbPlayer;
/** Answers that are held back, by address. */
const held = new Map<string, () => void>();
let holds = (_address: string) => false;
let answers = (_address: string) => 200;
const tell = { ready: jest.fn(), silent: jest.fn(), failed: jest.fn() };

const settled = () => jest.advanceTimersByTimeAsync(0);
/** Lets the context's clock go on, with all that looks at it. */
async function pass(seconds: number): Promise<void> {
  for (let left = seconds; left > 1e-9; left -= 0.1) {
    context.currentTime += Math.min(0.1, left);
    await jest.advanceTimersByTimeAsync(100);
  }
}

function playerFrom(place: number): AbPlayer {
  const mix = (letter: AbSide) => ({ seconds: SECONDS, address: (piece: number) => `${letter} ${piece}` });
  return new AbPlayer(context as unknown as AudioContext, { A: mix('A'), B: mix('B') }, place, tell);
}

beforeEach(() => {
  jest.useFakeTimers();
  tell.ready.mockClear();
  tell.silent.mockClear();
  tell.failed.mockClear();
  held.clear();
  holds = () => false;
  answers = () => 200;
  globalThis.fetch = ((address: string) => {
    const [letter, piece] = address.split(' ');
    const status = answers(address);
    const answer = {
      ok: status === 200,
      status,
      headers: { get: (name: string) => (name === HALVED_HEADER ? '0' : null) },
      arrayBuffer: () => Promise.resolve({ letter, piece: Number(piece) }),
    };
    return holds(address)
      ? new Promise((resolve) => held.set(address, () => resolve(answer)))
      : Promise.resolve(answer);
  }) as unknown as typeof fetch;
  context = new FakeContext();
  player = playerFrom(0);
});
afterEach(() => {
  player.close();
  jest.useRealTimers();
});

/** Plays, once the first pieces are there. */
async function begin(): Promise<void> {
  await settled();
  await player.play();
  await settled();
}
const levels = () => Object.fromEntries(context.now.map(({ letter, level }) => [letter, level()]));
/** What sounds of a mix, stretch by stretch: from which sample of the context, which of the song, how many. */
const stretchesOf = (letter: AbSide) =>
  context.playing.filter((one) => one.letter === letter).map(({ at, song, length }) => ({ at, song, length }));
/** Whether each stretch begins at the sample at which the one before ends, and goes on in the song there or goes round. */
function expectNoGap(letter: AbSide, loop?: readonly [number, number]): void {
  const all = stretchesOf(letter);
  expect(all.length).toBeGreaterThan(1);
  all.slice(1).forEach(({ at, song }, n) => {
    const before = all[n]!;
    expect(at).toBe(before.at + before.length);
    const next = before.song + before.length;
    expect(song).toBe(loop && next === loop[1] ? loop[0] : next);
  });
}

test('both go through the song without a gap, at the same samples, and one of them is heard', async () => {
  await begin();
  await pass(9);
  expectNoGap('A');
  expect(stretchesOf('B')).toEqual(stretchesOf('A'));
  expect(levels()).toEqual({ A: 1, B: 0 });
});

test('going over to the other changes nothing but which is heard, at its own level', async () => {
  player.level({ A: 0.8, B: 0.5 });
  await begin();
  const before = context.playing.length;
  player.hear('B');
  expect(context.playing).toHaveLength(before);
  expect(levels()).toEqual({ A: 0, B: 0.5 });
  for (const seconds of context.fades) expect(seconds).toBeCloseTo(0.008);
  player.level({ A: 1, B: 0.7 });
  expect(levels()).toEqual({ A: 0, B: 0.7 });
});

test('levels that become better known are gone to by a tenth of a dB a second, others at once', async () => {
  const db = () => 20 * Math.log10(levels()['A']!);
  await begin();
  player.level({ A: 0.5, B: 1 }, { gradually: true });
  let before = db();
  for (let second = 0; second < 5; second++) {
    await pass(1);
    expect(before - db()).toBeCloseTo(0.1, 2);
    before = db();
  }
  expect(player.softerBy('A')).toBeCloseTo(0.5, 1);
  // Where everything changes anyway they are there at once.
  player.hear('B');
  player.hear('A');
  expect(levels()['A']).toBe(0.5);
  player.level({ A: 0.8, B: 1 });
  expect(levels()['A']).toBe(0.8);
});

describe('never more than one pair sounds', () => {
  test('played twice before the loudspeaker is awake', async () => {
    await settled();
    context.sleep();
    const both = [player.play(), player.play()];
    context.wake();
    await Promise.all(both);
    expect(new Set(context.now.map(({ at, letter }) => `${letter} ${at}`)).size).toBe(context.now.length);
    player.pause();
    expect(context.now).toHaveLength(0);
  });

  test('stopped before the loudspeaker is awake, it stays silent', async () => {
    context.sleep();
    const playing = player.play();
    player.pause();
    context.wake();
    await playing;
    expect(context.playing).toHaveLength(0);
    expect(player.playing).toBe(false);
  });

  test('moved to another place while it plays', async () => {
    await begin();
    await player.seek(10);
    await settled();
    expect(context.now.map(({ song }) => song).slice(0, 2)).toEqual([10 * MIX_RATE, 10 * MIX_RATE]);
  });
});

describe('its place', () => {
  test('stands where it was stopped, and goes on from there', async () => {
    await begin();
    await pass(5.03);
    player.pause();
    expect(player.place).toBeCloseTo(5, 1);
    const stopped = player.place;
    await begin();
    expect(context.now[0]!.song).toBe(Math.round(stopped * MIX_RATE));
  });

  test('stays inside the sound', async () => {
    await player.seek(-3);
    expect(player.place).toBe(0);
    await player.seek(SECONDS + 3);
    expect(player.place).toBe(SECONDS);
    await begin();
    // From its very end it begins again.
    expect(context.now[0]!.song).toBe(0);
  });

  test('goes round inside a part that repeats, sample by sample, also over the ends of pieces', async () => {
    const loop = [3.5, 6.25] as const;
    await player.repeat(loop);
    await player.seek(4);
    await begin();
    await pass(12);
    expectNoGap('A', [loop[0] * MIX_RATE, loop[1] * MIX_RATE]);
    expect(stretchesOf('B')).toEqual(stretchesOf('A'));
    // 12 s less the way in, from 4 s on: 2.25 s to the end of the part, then round and round in 2.75 s.
    expect(player.place).toBeCloseTo(loop[0] + ((12 - 0.03 - 2.25) % 2.75), 1);
  });

  test('is the beginning once it has ended', async () => {
    await begin();
    await pass(SECONDS + 1);
    expect([player.playing, player.place]).toEqual([false, 0]);
    const heard = stretchesOf('A').reduce((sum, { length }) => sum + length, 0);
    expect(heard).toBe(SECONDS * MIX_RATE);
  });
});

describe('what is not there yet', () => {
  test('is waited for, and goes on at the very sample; B waits with A', async () => {
    player.close();
    holds = (address) => address === 'B 1';
    player = playerFrom(0);
    await begin();
    await pass(3);
    expect([player.playing, player.waiting]).toEqual([true, true]);
    expect(player.place).toBeCloseTo(2);
    held.get('B 1')!();
    await pass(1);
    expect(player.waiting).toBe(false);
    const [first, second] = stretchesOf('A');
    expect(second!.song).toBe(first!.song + first!.length);
    expect(stretchesOf('B')).toEqual(stretchesOf('A'));
  });

  test.each([
    ['just before', 2.02],
    ['just after', 2.05],
  ])('that comes %s what is planned has sounded is not begun in the past', async (_when, comes) => {
    player.close();
    holds = (address) => address === 'B 1';
    player = playerFrom(0);
    await begin();
    await pass(2);
    context.currentTime = comes;
    held.get('B 1')!();
    await settled();
    await pass(1);
    const [first, second, third] = stretchesOf('A');
    expect(second!.at).toBeGreaterThan((comes + 0.02) * MIX_RATE);
    expect(second!.song).toBe(first!.song + first!.length);
    expect(third!.at).toBe(second!.at + second!.length);
    expect(stretchesOf('B')).toEqual(stretchesOf('A'));
  });

  test('is asked for again while it is rendered; what cannot be had is told', async () => {
    let asked = 0;
    answers = (address) => (address === 'A 0' && ++asked < 3 ? 503 : 200);
    player.close();
    player = playerFrom(0);
    await begin();
    expect([asked, context.now.length]).toEqual([1, 0]);
    await pass(0.5);
    expect(asked).toBe(3);
    expect(context.now.length).toBeGreaterThan(0);
    answers = () => 404;
    await player.seek(20);
    await pass(5);
    expect(tell.failed).toHaveBeenCalled();
  });

  test('is said before it has to wait; then it goes on only with some more of it', async () => {
    const far = 10;
    holds = (address) => Number(address.split(' ')[1]) >= far;
    await begin();
    await pass(8);
    expect(player.late).toBe(false);
    await pass(8);
    // Up to 20 s it is there.
    expect([player.late, player.waiting]).toEqual([true, false]);
    await pass(5);
    expect(player.waiting).toBe(true);
    const arrive = (piece: number) => ['A', 'B'].forEach((letter) => held.get(`${letter} ${piece}`)!());
    for (const piece of [far, far + 1]) {
      arrive(piece);
      await pass(0.5);
      expect(player.waiting).toBe(true);
    }
    arrive(far + 2);
    await pass(0.5);
    expect(player.waiting).toBe(false);
    expect(player.place).toBeCloseTo(2 * far + 0.4, 0);
  });

  test('is told to be ready once the beginning of both is there, from wherever it begins', async () => {
    player.close();
    tell.ready.mockClear();
    holds = (address) => address === 'B 15';
    player = playerFrom(30.5);
    await settled();
    expect([tell.ready.mock.calls.length, player.isReady]).toEqual([0, false]);
    held.get('B 15')!();
    await settled();
    expect([tell.ready.mock.calls.length, player.isReady]).toEqual([1, true]);
    await begin();
    expect(context.now[0]!.song).toBe(30.5 * MIX_RATE);
    expect(tell.ready).toHaveBeenCalledTimes(1);
  });

  test('no more is held than lies around the place that is heard', async () => {
    const asked: string[] = [];
    holds = (address) => (asked.push(address), false);
    await begin();
    await pass(60);
    player.pause();
    asked.length = 0;
    await player.seek(0);
    await settled();
    // The beginning was let go of, and is asked for again.
    expect(asked.slice(0, 2)).toEqual(['A 0', 'B 0']);
  });
});

test('where there is no loudspeaker it says so after a while, and plays once there is one', async () => {
  await settled();
  context.sleep();
  const first = player.play();
  await jest.advanceTimersByTimeAsync(3000);
  await first;
  expect([tell.silent.mock.calls.length, player.playing]).toEqual([1, false]);
  context.wake();
  await player.play();
  expect([tell.silent.mock.calls.length, player.playing]).toEqual([1, true]);
});

test('whoever pressed Pause before it could open is told nothing', async () => {
  context.sleep();
  const first = player.play();
  player.pause();
  await jest.advanceTimersByTimeAsync(3000);
  await first;
  expect(tell.silent).not.toHaveBeenCalled();
});

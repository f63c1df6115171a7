import { AbPlayer, type AbSide } from '../../src/components/audition/ab-player';

/** A sound at work, with what it was told. */
interface Playing {
  readonly letter: string;
  readonly from: number;
  readonly at: number;
  readonly loop: readonly [number, number] | null;
  readonly level: () => number;
  stopped: boolean;
  readonly end: () => void;
}

const SECONDS = 32;

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
    return { gain, connect: () => undefined };
  };

  readonly createBufferSource = () => {
    let gain = { value: 0 };
    const source = {
      buffer: { letter: '' },
      loop: false,
      loopStart: 0,
      loopEnd: 0,
      onended: null as (() => void) | null,
      connect: (node: { gain: { value: number } }) => {
        ({ gain } = node);
        return node;
      },
      start: (at: number, from: number) => {
        const one: Playing = {
          letter: source.buffer.letter,
          from,
          at,
          loop: source.loop ? [source.loopStart, source.loopEnd] : null,
          stopped: false,
          end: () => source.onended?.(),
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

let context: FakeContext;
let player: AbPlayer;
const onSilent = jest.fn();
beforeEach(() => {
  onSilent.mockClear();
  context = new FakeContext();
  const buffer = (letter: AbSide) => ({ letter, duration: SECONDS }) as unknown as AudioBuffer;
  player = new AbPlayer(context as unknown as AudioContext, { A: buffer('A'), B: buffer('B') }, onSilent);
});
const levels = () => Object.fromEntries(context.now.map(({ letter, level }) => [letter, level()]));

test('both begin at the same sample, and one of them is heard', async () => {
  await player.play();
  expect(context.now).toHaveLength(2);
  expect(new Set(context.now.map(({ at, from }) => `${at} ${from}`)).size).toBe(1);
  expect(levels()).toEqual({ A: 1, B: 0 });
});

test('going over to the other changes nothing but which is heard, at its own level', async () => {
  player.level({ A: 0.8, B: 0.5 });
  await player.play();
  player.hear('B');
  expect(context.playing).toHaveLength(2);
  expect(levels()).toEqual({ A: 0, B: 0.5 });
  for (const seconds of context.fades) expect(seconds).toBeCloseTo(0.008);
  player.level({ A: 1, B: 0.7 });
  expect(levels()).toEqual({ A: 0, B: 0.7 });
});

describe('never more than one pair sounds', () => {
  test('played twice before the loudspeaker is awake', async () => {
    context.sleep();
    const both = [player.play(), player.play()];
    context.wake();
    await Promise.all(both);
    expect(context.now).toHaveLength(2);
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
    await player.play();
    await player.seek(10);
    expect(context.now.map(({ from }) => from)).toEqual([10, 10]);
  });
});

describe('its place', () => {
  test('stands where it was stopped, and goes on from there', async () => {
    await player.play();
    context.currentTime += 5.02;
    player.pause();
    expect(player.place).toBeCloseTo(5);
    await player.play();
    expect(context.now[0]?.from).toBeCloseTo(5);
  });

  test('stays inside the sound', async () => {
    await player.seek(-3);
    expect(player.place).toBe(0);
    await player.seek(SECONDS + 3);
    expect(player.place).toBe(SECONDS);
    await player.play();
    // From its very end it begins again.
    expect(context.now[0]?.from).toBe(0);
  });

  test('goes round inside a part that repeats', async () => {
    await player.repeat([4, 6]);
    await player.seek(4);
    await player.play();
    expect(context.now[0]?.loop).toEqual([4, 6]);
    context.currentTime += 0.02 + 5;
    expect(player.place).toBeCloseTo(5);
  });

  test('is the beginning once it has ended', async () => {
    await player.play();
    context.currentTime += SECONDS + 1;
    context.now[0]?.end();
    expect(player.playing).toBe(false);
    expect(player.place).toBe(0);
  });

  test('the end of what was stopped before says nothing of what plays now', async () => {
    await player.play();
    const [first] = context.now;
    await player.seek(10);
    first?.end();
    expect(player.playing).toBe(true);
  });
});

test('where there is no loudspeaker it says so after a while, and plays once there is one', async () => {
  jest.useFakeTimers();
  context.sleep();
  const first = player.play();
  await jest.advanceTimersByTimeAsync(3000);
  await first;
  expect([onSilent.mock.calls.length, player.playing]).toEqual([1, false]);
  context.wake();
  await player.play();
  expect([onSilent.mock.calls.length, player.playing]).toEqual([1, true]);
  jest.useRealTimers();
});

test('whoever pressed Pause before it could open is told nothing', async () => {
  jest.useFakeTimers();
  context.sleep();
  const first = player.play();
  player.pause();
  await jest.advanceTimersByTimeAsync(3000);
  await first;
  expect(onSilent).not.toHaveBeenCalled();
  jest.useRealTimers();
});

import { act, fireEvent, render, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { PaperProvider } from 'react-native-paper';

import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec } from '@old-echo/core/desk/setting';
import { boathouse, quay, skiff } from '@old-echo/testing/profiles';

import { SettingRow } from '../../src/desk/setting-row';
import { Sentence } from '../../src/ui/app-text';
import { HoldButton } from '../../src/ui/buttons';
import { StripColour } from '../../src/ui/strip-colour';
import { StripRowLayout } from '../../src/ui/strip-row-layout';
import { dayTheme, nightTheme } from '../../src/ui/theme';
import { DAY, type Look, NIGHT, STRIP_COLOURS } from '../../src/ui/tokens';

const show = (children: ReactNode) => render(<PaperProvider theme={dayTheme}>{children}</PaperProvider>);

/** WCAG 2.2: relative luminance, and contrast ratio. */
function contrast(a: string, b: string): number {
  const luminance = (hex: string) =>
    [1, 3, 5]
      .map((i) => parseInt(hex.slice(i, i + 2), 16) / 255)
      .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4))
      .reduce((sum, c, i) => sum + c * [0.2126, 0.7152, 0.0722][i]!, 0);
  const [x, y] = [luminance(a), luminance(b)].sort((p, q) => q - p);
  return (x! + 0.05) / (y! + 0.05);
}

describe.each([
  ['day', DAY],
  ['night', NIGHT],
])('text by %s', (_, look: Look) => {
  test.each(['ink', 'second', 'done', 'care', 'stop'] as const)(
    '%s has a contrast of 4.5 : 1 or better on paper, card and wash',
    (tone) => {
      for (const ground of ['paper', 'card'] as const)
        expect(contrast(look[tone], look[ground])).toBeGreaterThanOrEqual(4.5);
      expect(contrast(look[tone], look.wash)).toBeGreaterThanOrEqual(4.4);
    },
  );
  test.each(Object.entries(STRIP_COLOURS))(
    'the colour %s of a strip stands out 3 : 1 or better (WCAG 1.4.11)',
    (_, tone) => {
      for (const ground of ['paper', 'card', 'wash'] as const)
        expect(contrast(tone[look.dark ? 'night' : 'day'], look[ground])).toBeGreaterThanOrEqual(3);
    },
  );
  test('a banner and a chosen chip can be read', () => {
    expect(contrast(look.card, look.stop)).toBeGreaterThanOrEqual(4.5);
    expect(contrast(look.paper, look.ink)).toBeGreaterThanOrEqual(4.5);
  });
});

test('both themes take every colour from the tokens', () => {
  expect([dayTheme.colors.background, nightTheme.colors.background]).toEqual([DAY.paper, NIGHT.paper]);
});

test('a strip line says in words what it shows: level, where it was, muted', () => {
  const spec = specOf(quay, 'in.1/fader/level')!;
  if (!isNumberSpec(spec)) throw new Error('a fader is a number');
  show(
    <StripRowLayout strip="in.1" number="01" name="Fiddle" under="EQ 1" muted level={{ spec, value: -5, echo: -8 }} />,
  );
  expect(screen.getByRole('button', { name: 'Fiddle, muted, EQ 1' })).toBeTruthy();
  expect(screen.getByText('\u22125.0')).toBeTruthy();
  expect(screen.getByText(/was/).textContent).toBe('was \u22128.0');
  // What opens it holds nothing else that can be taken.
  expect(screen.getByRole('button').querySelector('[role=slider], button')).toBeNull();
});

test('every colour that a strip of the demo can have is drawn; one that nobody knows is not', () => {
  for (const profile of [quay, boathouse, skiff])
    for (const { settings } of profile.families) {
      const spec = settings['label/colour'];
      if (spec?.kind === 'choice') for (const name of spec.options) expect(STRIP_COLOURS[name]).toBeDefined();
    }
  const { unmount } = show(<StripColour name="kelp" />);
  expect(screen.getByTestId('strip-colour')).toBeTruthy();
  unmount();
  show(<StripColour name="ultraviolet" />);
  show(<StripColour name={null} />);
  expect(screen.queryByTestId('strip-colour')).toBeNull();
});

test('a sentence is one text, its decisive parts set apart', () => {
  show(<Sentence phrases={[{ text: 'EQ on 2 strips', tone: 'bold' }, { text: ' comes back.' }]} />);
  expect(screen.getByTestId('sentence').textContent).toBe('EQ on 2 strips comes back.');
});

describe('a setting', () => {
  test('a switch sends what it becomes, and nothing while the desk is not linked', () => {
    const moved = jest.fn();
    const row = (onMove?: typeof moved) => (
      <SettingRow
        spec={{ kind: 'switch', default: false }}
        address="in.1/mute/on"
        name="Muted"
        value={false}
        echo={undefined}
        onMove={onMove}
      />
    );
    const { unmount } = show(row(moved));
    fireEvent.click(screen.getByRole('switch', { name: 'Muted' }));
    expect(moved).toHaveBeenCalledWith('in.1/mute/on', true, true, false);
    unmount();
    show(row());
    expect(screen.getByRole<HTMLInputElement>('switch', { name: 'Muted' }).disabled).toBe(true);
  });

  test('what it was stands beside it', () => {
    const spec = specOf(quay, 'in.1/eq/1/kind')!;
    show(
      <SettingRow spec={spec} address="in.1/eq/1/kind" name="Kind" value="bell" echo="low shelf" onMove={undefined} />,
    );
    expect(screen.getByText(/was/).textContent).toBe('was low shelf');
  });
});

describe('a button that has to be held', () => {
  beforeEach(() => jest.useFakeTimers());
  afterEach(() => jest.useRealTimers());
  const hold = (ms: number) => {
    const done = jest.fn();
    show(<HoldButton title="Hold to restore" onDone={done} />);
    const button = screen.getByRole('button', { name: 'Hold to restore: hold' });
    act(() => void fireEvent.keyDown(button, { key: 'Enter' }));
    act(() => jest.advanceTimersByTime(ms));
    act(() => void fireEvent.keyUp(button, { key: 'Enter' }));
    act(() => jest.advanceTimersByTime(2000));
    return done;
  };
  test('held long enough, it acts once', () => expect(hold(1200)).toHaveBeenCalledTimes(1));
  test('let go early, it does nothing', () => expect(hold(300)).not.toHaveBeenCalled());

  const asking = (done: () => void, disabled: boolean) => (
    <PaperProvider theme={dayTheme}>
      <HoldButton title="Hold to restore" onDone={done} disabled={disabled && 'It is looked at again.'} />
    </PaperProvider>
  );
  test.each([
    ['called into question for a moment, it counts from the beginning', false, 700, 0],
    ['pressed while it is in question, it never acts', true, 3000, 0],
    ['and is not lost: held through to its end after that, it acts once', false, 900, 1],
  ])('%s', (_, first, ms, times) => {
    const done = jest.fn();
    const { rerender } = render(asking(done, first));
    act(() => void fireEvent.keyDown(screen.getByRole('button'), { key: 'Enter' }));
    act(() => jest.advanceTimersByTime(600));
    rerender(asking(done, true));
    rerender(asking(done, false));
    act(() => jest.advanceTimersByTime(ms));
    expect(done).toHaveBeenCalledTimes(times);
  });

  test('once it has acted it does not act again, although it is in question for a moment and still held', () => {
    const done = jest.fn();
    const { rerender } = render(asking(done, false));
    act(() => void fireEvent.keyDown(screen.getByRole('button'), { key: 'Enter' }));
    act(() => jest.advanceTimersByTime(900));
    rerender(asking(done, true));
    rerender(asking(done, false));
    act(() => jest.advanceTimersByTime(3000));
    expect(done).toHaveBeenCalledTimes(1);
  });
});

describe('a strip that is held', () => {
  const opened = jest.fn();
  const picked = jest.fn();
  beforeEach(() => {
    jest.clearAllMocks();
    const spec = specOf(quay, 'in.1/fader/level')!;
    if (!isNumberSpec(spec)) throw new Error('a fader is a number');
    const level = { spec, value: -5 };
    show(<StripRowLayout strip="in.1" number="01" name="Fiddle" level={level} onOpen={opened} onPick={picked} />);
  });
  const row = () => screen.getByRole('button', { name: 'Fiddle' });
  /** An event as the browser tells it: when it happened, not when the page came to it. */
  const happened = (event: Event, at: number): Event => Object.defineProperty(event, 'timeStamp', { value: at });
  const press = (ms: number, on = row()) => {
    fireEvent(on, happened(new MouseEvent('mousedown', { bubbles: true, buttons: 1 }), 1000));
    fireEvent(on, happened(new MouseEvent('mouseup', { bubbles: true }), 1000 + ms));
    fireEvent(on, happened(new MouseEvent('click', { bubbles: true }), 1000 + ms));
  };
  test.each([
    [120, 'opened'],
    [700, 'selected'],
  ])('for %d ms is %s, also where a busy page came to both ends of it at once', (ms, what) => {
    press(ms);
    expect([opened.mock.calls.length, picked.mock.calls.length]).toEqual(what === 'opened' ? [1, 0] : [0, 1]);
  });
  test('a click of a key or a screen reader opens it, whatever was held before', () => {
    press(700);
    fireEvent(row(), happened(new MouseEvent('click', { bubbles: true }), 5000));
    expect([opened.mock.calls.length, picked.mock.calls.length]).toEqual([1, 1]);
  });
  test('a finger that rests on its fader holds the fader, not the strip', async () => {
    const dot = screen.getByRole('slider');
    fireEvent(dot, happened(new MouseEvent('mousedown', { bubbles: true, buttons: 1 }), 1000));
    await new Promise((resolve) => setTimeout(resolve, 700));
    fireEvent(dot, happened(new MouseEvent('mouseup', { bubbles: true }), 1700));
    expect([opened.mock.calls.length, picked.mock.calls.length]).toEqual([0, 0]);
    press(700, dot);
    expect([opened.mock.calls.length, picked.mock.calls.length]).toEqual([1, 0]);
  });
});

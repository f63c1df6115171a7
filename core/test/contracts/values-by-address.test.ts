import { MOST_MOVED, MOST_SETTINGS, settingsShape } from '@old-echo/core/contracts/desk';
import { stagedSettingsShape } from '@old-echo/core/contracts/preset';
import { rippleShape } from '@old-echo/core/contracts/ripple';
import { renderShape } from '@old-echo/core/contracts/sound';
import { defaultState } from '@old-echo/core/desk/state';
import { Fault } from '@old-echo/core/fault/fault';
import { parseShape } from '@old-echo/core/fault/parse-shape';
import { quay } from '@old-echo/testing/profiles';

const ID = '01DESK00000000000000000000';
const many = (count: number) => Object.fromEntries(Array.from({ length: count }, (_, i) => [`in.${i}/fader/level`, 0]));

const said = (read: () => unknown): string => {
  try {
    read();
    return 'taken';
  } catch (error) {
    if (!(error instanceof Fault)) throw error;
    return error.message;
  }
};

describe.each([
  ['moves by hand', MOST_MOVED, 'settings', (settings: unknown) => parseShape(settingsShape, { settings })],
  [
    'amounts to move by',
    MOST_MOVED,
    'offsets',
    (offsets: unknown) =>
      parseShape(rippleShape, { settings: {}, offsets, scenes: [{ id: ID, revision: 1 }], by: 'Wren' }),
  ],
  [
    'settings that are looked at before they are sent',
    MOST_SETTINGS,
    'settings',
    (settings: unknown) => parseShape(stagedSettingsShape, { deskId: ID, title: 'Harbour Hall', settings }),
  ],
  [
    'settings that are heard',
    MOST_SETTINGS,
    'settings',
    (settings: unknown) => parseShape(renderShape, { productionId: ID, deskId: ID, output: 'main.1', settings }),
  ],
])('%s', (_, most, field, read) => {
  test('are taken up to the limit, and one more is refused with it', () => {
    expect(said(() => read(many(most)))).toBe('taken');
    const path = field.charAt(0).toUpperCase() + field.slice(1);
    expect(said(() => read(many(most + 1)))).toBe(`${path} may hold at most ${most} values at once.`);
  });
  test.each([[['in.1/fader/level']], ['in.1/fader/level'], [3]])('that are %j are refused as what they are', (value) =>
    expect(said(() => read(value))).toMatch(/must hold values by address\.$/),
  );
});

test('all settings of a desk of 48 inputs can be heard and looked at together', () => {
  const all = Object.entries(defaultState(quay)).flatMap(([strip, settings]) =>
    Object.entries(settings).map(([key, value]) => [`${strip}/${key}`, value]),
  );
  expect(all.length).toBeGreaterThan(MOST_MOVED);
  const settings: unknown = Object.fromEntries(all);
  expect(said(() => parseShape(renderShape, { productionId: ID, deskId: ID, output: 'main.1', settings }))).toBe(
    'taken',
  );
});

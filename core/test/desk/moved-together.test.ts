import fc from 'fast-check';

import { movedTogether } from '@old-echo/core/desk/batch-edit';
import { specOf } from '@old-echo/core/desk/profile';
import { isNumberSpec, isOff, type NumberSpec } from '@old-echo/core/desk/setting';
import { defaultState, type SettingsByAddress, valueAt, withSettings } from '@old-echo/core/desk/state';
import { between } from '@old-echo/testing/between';
import { boathouse, quay } from '@old-echo/testing/profiles';

const STRIPS = ['in.1', 'in.2', 'in.3'];
const desk = (settings: SettingsByAddress) => withSettings(defaultState(quay), settings);
const level = (n: number) => `in.${n}/fader/level`;
const spec = specOf(quay, level(1)) as NumberSpec;

describe('by a step', () => {
  test('three faders go down by the same 3 dB, each from where it is', () => {
    const before = desk({ [level(1)]: -10, [level(2)]: -22.5, [level(3)]: 0 });
    expect(movedTogether(quay, before, STRIPS, { address: level(2), to: -25.5 }, 'step')).toEqual({
      [level(1)]: -13,
      [level(2)]: -25.5,
      [level(3)]: -3,
    });
  });

  test('wherever the hand goes in between, it comes back with all of them exactly, those that met an end of their range too', () => {
    const levels = between(spec.min + 1, spec.max);
    fc.assert(
      fc.property(levels, levels, levels, levels, (one, two, three, through) => {
        const before = desk({ [level(1)]: one, [level(2)]: two, [level(3)]: three });
        const there = movedTogether(quay, before, STRIPS, { address: level(1), to: through }, 'step');
        for (const [address, value] of Object.entries(there)) {
          const own = specOf(quay, address);
          expect(own && isNumberSpec(own) && Number(value) >= own.min && Number(value) <= own.max).toBe(true);
        }
        const home = Number(valueAt(before, level(1)));
        const back = movedTogether(quay, before, STRIPS, { address: level(1), to: home }, 'step');
        for (const n of [2, 3]) {
          const was = valueAt(before, level(n));
          if (!isOff(spec, was)) expect(Number(back[level(n)])).toBeCloseTo(Number(was), 1);
        }
      }),
    );
  });

  test('a fader that is off stays off, and nothing follows one that was off: it would be a leap of a whole range', () => {
    const before = desk({ [level(1)]: spec.min, [level(2)]: -20, [level(3)]: -20 });
    expect(movedTogether(quay, before, STRIPS, { address: level(2), to: -17 }, 'step')).toEqual({
      [level(2)]: -17,
      [level(3)]: -17,
    });
    expect(movedTogether(quay, before, STRIPS, { address: level(1), to: -10 }, 'step')).toEqual({ [level(1)]: -10 });
  });
});

describe('to a value', () => {
  test('all hold it', () => {
    const before = desk({});
    for (const [key, to] of [
      ['compressor/ratio', 4],
      ['mute/on', true],
      ['eq/2/kind', 'notch'],
    ] as const)
      expect(movedTogether(quay, before, STRIPS, { address: `in.2/${key}`, to }, 'value')).toEqual(
        Object.fromEntries(STRIPS.map((strip) => [`${strip}/${key}`, to])),
      );
  });

  test('a switch is set alike also where numbers go by a step', () => {
    const before = desk({ 'in.1/mute/on': true });
    expect(movedTogether(quay, before, STRIPS, { address: 'in.2/mute/on', to: true }, 'step')).toEqual(
      Object.fromEntries(STRIPS.map((strip) => [`${strip}/mute/on`, true])),
    );
  });
});

test.each<[string, string | boolean]>([
  ['source/socket', 'Stage 7'],
  ['source/link', true],
  ['label/name', 'Wren vox'],
  ['preamp/phantom', true],
])('%s is each strip’s own', (key, to) => {
  const address = `in.2/${key}`;
  expect(specOf(quay, address)).toBeDefined();
  for (const how of ['step', 'value'] as const)
    expect(movedTogether(quay, desk({}), STRIPS, { address, to }, how)).toEqual({ [address]: to });
});

test('an insert follows only where the same is loaded in that slot', () => {
  const before = withSettings(defaultState(boathouse), {
    'in.1/inserts/1/kind': 'drive',
    'in.2/inserts/1/kind': 'drive',
    'in.3/inserts/1/kind': 'echo',
  });
  expect(movedTogether(boathouse, before, STRIPS, { address: 'in.1/inserts/1/drive/amount', to: 40 }, 'value')).toEqual(
    {
      'in.1/inserts/1/drive/amount': 40,
      'in.2/inserts/1/drive/amount': 40,
    },
  );
  // Nothing is loaded by loading it elsewhere.
  const load = { address: 'in.3/inserts/1/kind', to: 'drive' };
  expect(movedTogether(boathouse, before, STRIPS, load, 'value')).toEqual({ 'in.3/inserts/1/kind': 'drive' });
});

test('strips that lack the control stay out of it', () => {
  expect(movedTogether(quay, desk({}), ['in.1', 'mix.1'], { address: 'in.1/preamp/gain', to: 30 }, 'value')).toEqual({
    'in.1/preamp/gain': 30,
  });
});

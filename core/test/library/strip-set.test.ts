import { boathouse } from '@old-echo/testing/profiles';

import { defaultState, type State, withSettings } from '../../src/desk/state';
import { isUnused } from '../../src/desk/strips-in-use';
import type { PresetSource } from '../../src/library/apply-preset';
import { stripSetContent } from '../../src/library/preset';
import { applyStripSet, findUnusedInputs } from '../../src/library/strip-set';

describe('stripSets', () => {
  const band: State = withSettings(defaultState(boathouse), {
    'in.3/label/name': 'Accordion L',
    'in.3/source/link': true,
    'in.3/fader/level': -12,
    'in.3/sends/fx.1/level': -14,
    'in.3/routing/group.2': true,
    'in.4/label/name': 'Accordion R',
    'in.4/fader/level': -12,
    'in.4/sends/fx.1/level': -20,
    'fx.1/label/name': 'Room',
    'fx.1/inserts/time': 0.7,
    'group.2/label/name': 'Strings and reeds',
  });
  const stripSet: PresetSource = {
    kind: 'strip set',
    profile: boathouse,
    content: stripSetContent(boathouse, band, ['in.3']),
  };
  const put = (now: State) =>
    applyStripSet(stripSet, boathouse, now, findUnusedInputs(stripSet, boathouse, now), false);

  test('it holds the linked half, the group, and the effect return that its sends feed', () => {
    expect(Object.keys(stripSet.content)).toEqual(['in.3', 'in.4', 'fx.1', 'group.2']);
    expect(stripSet.content['in.3']?.['sends/fx.2/level']).toBeUndefined();
  });

  test('put in twice it gives two of the strips and one shared return', () => {
    const first = put(defaultState(boathouse));
    const once = withSettings(defaultState(boathouse), first.settings);
    expect(first.places.map(({ how }) => how)).toEqual(['input', 'input', 'free', 'free']);
    const second = put(once);
    expect(second.places).toEqual([
      { from: 'in.3', to: 'in.3', how: 'input' },
      { from: 'in.4', to: 'in.4', how: 'input' },
      { from: 'fx.1', to: 'fx.1', how: 'same' },
      { from: 'group.2', to: 'group.1', how: 'same' },
    ]);
    const twice = withSettings(once, second.settings);
    const named = (name: string) => boathouse.strips.filter((strip) => twice[strip]?.['label/name'] === name);
    expect([named('Accordion L'), named('Accordion R'), named('Room')]).toEqual([
      ['in.1', 'in.3'],
      ['in.2', 'in.4'],
      ['fx.1'],
    ]);
    expect(second.sends).toEqual([
      { strip: 'in.3', to: 'fx.1', level: -14 },
      { strip: 'in.4', to: 'fx.1', level: -20 },
    ]);
  });

  test('a linked pair lands side by side, on an odd strip and the even one after it', () => {
    const now = withSettings(defaultState(boathouse), { 'in.1/label/name': 'Taken', 'in.1/fader/level': 0 });
    expect([...findUnusedInputs(stripSet, boathouse, now).values()]).toEqual(['in.3', 'in.4']);
  });

  test('strips that were chosen are all used, in their order, and then free ones', () => {
    const three = { ...stripSet, content: stripSetContent(boathouse, band, ['in.3', 'in.5', 'in.6']) };
    const chosen = (...strips: string[]) => [
      ...findUnusedInputs(three, boathouse, defaultState(boathouse), strips).values(),
    ];
    expect(chosen('in.9', 'in.10', 'in.20', 'in.15')).toEqual(['in.9', 'in.10', 'in.20', 'in.15']);
    // A linked pair stands on an odd strip and the even one after it.
    expect(chosen('in.20', 'in.15')).toEqual(['in.15', 'in.16', 'in.20', 'in.21']);
    expect(new Set(chosen('in.9', 'in.9'))).toHaveProperty('size', 4);
  });

  test('put in at once, it lands on none of the strips it was made from, and on no strip twice', () => {
    const two = { ...stripSet, content: stripSetContent(boathouse, band, ['in.5', 'in.6']) };
    const named = withSettings(band, {
      'in.5/label/name': 'Voice',
      'in.6/label/name': 'Fiddle',
      'in.5/fader/level': 0,
    });
    const made = { ...two, content: stripSetContent(boathouse, named, ['in.5', 'in.6']) };
    const landed = [...findUnusedInputs(made, boathouse, named, ['in.5', 'in.6']).values()];
    expect(new Set(landed).size).toBe(2);
    expect(landed.some((strip) => ['in.5', 'in.6'].includes(strip))).toBe(false);
  });

  test('where no return is free, its sends stay behind and that is told', () => {
    const full = withSettings(
      defaultState(boathouse),
      Object.fromEntries(boathouse.families[1]!.strips.map((fx) => [`${fx}/label/name`, `Own ${fx}`])),
    );
    const plan = put(full);
    expect(plan.sends).toEqual([]);
    expect(plan.notes).toContainEqual(expect.objectContaining({ strip: 'fx.1', why: 'no effect return free' }));
    expect(Object.keys(plan.settings).some((address) => address.includes('/sends/'))).toBe(false);
  });

  test('a return that nobody feeds and nobody named is free, one that is fed is not', () => {
    expect(isUnused(boathouse, defaultState(boathouse), 'fx.2')).toBe(true);
    const fed = withSettings(defaultState(boathouse), { 'in.1/sends/fx.2/level': -20 });
    expect(isUnused(boathouse, fed, 'fx.2')).toBe(false);
  });
});

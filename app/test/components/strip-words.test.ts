import { stripFamily } from '@old-echo/core/desk/profile';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { boathouse, quay, skiff } from '@old-echo/testing/profiles';

import { safeExtents } from '../../src/components/strip-safety';
import { countBySection, stripBadges } from '../../src/components/strip-summary';
import { sectionSummary } from '../../src/desk/section-summary';
import { settingGroups } from '../../src/desk/setting-groups';

const input = (profile: typeof quay, settings: SettingsByAddress = {}) =>
  withSettings(defaultState(profile), settings)['in.1']!;
const family = (profile: typeof quay) => stripFamily(profile, 'in.1')!;

describe('a strip in a few words', () => {
  const change = (key: string, now: number | boolean = 1) => ({ section: key.split('/')[0]!, key, now });

  test.each([
    [[change('fader/level')], ''],
    [[change('eq/1/gain'), change('eq/2/gain'), change('compressor/ratio')], 'EQ 2 · Comp 1'],
    [[change('mute/on', true), change('sends/mix.1/level')], 'mutes · Sends 1'],
    [[change('mute/on', false)], 'unmutes'],
  ])('%# what changed', (changes, words) => expect(countBySection(changes)).toBe(words));

  test('safe, partly safe and linked', () => {
    const linked = input(quay, { 'in.1/source/link': true });
    expect([stripBadges(linked, 'all'), stripBadges(input(quay), 'some'), stripBadges(undefined, 'none')]).toEqual([
      'safe · stereo link',
      'some safe',
      '',
    ]);
    const rows = safeExtents(quay, [
      { strips: ['in.1'], sections: ['*'] },
      { strips: ['in.2'], sections: ['fader'] },
      { strips: ['in.3'], sections: ['*'], settings: ['pan/position'] },
    ]);
    expect([rows['in.1'], rows['in.2'], rows['in.3'], rows['in.4']]).toEqual(['all', 'some', 'some', 'none']);
  });

  test.each([
    ['gate', {}, 'off'],
    ['fader', { 'in.1/fader/level': -4 }, '\u22124.0 dB'],
    ['sends', {}, 'no sends on'],
    [
      'sends',
      { 'in.1/sends/mix.1/level': -6, 'in.1/sends/mix.2/level': -6, 'in.1/sends/mix.2/on': false },
      '1 send on',
    ],
    ['source', {}, 'Stage 1'],
    ['pan', { 'in.1/pan/position': -20 }, 'L 20'],
    ['label', { 'in.1/label/name': 'Fiddle' }, 'Fiddle'],
  ])('%s with %j reads "%s" while it is folded', (section, settings, words) =>
    expect(sectionSummary(family(quay), section, input(quay, settings))).toBe(words),
  );

  test('automation counts its lanes', () => {
    const strip = input(boathouse, { 'in.1/automation/fader': [[0, -3]], 'in.1/automation/pan': [[0, 0]] });
    expect(sectionSummary(family(boathouse), 'automation', strip)).toBe('2 lanes');
  });
});

describe('the settings of a section', () => {
  test('an EQ is its switch and its bands, each with its settings in order', () => {
    const { singles, groups } = settingGroups(family(quay), 'eq', input(quay));
    expect(singles).toEqual(['eq/on']);
    expect(groups.map((group) => group.part)).toEqual(['1', '2', '3', '4']);
    expect(groups[1]?.keys).toEqual(['eq/2/on', 'eq/2/kind', 'eq/2/freq', 'eq/2/gain', 'eq/2/q']);
  });

  test('an insert slot shows the settings of the processor it holds, and of no other', () => {
    const strip = input(boathouse, { 'in.1/inserts/2/kind': 'drive' });
    const [empty, drive] = settingGroups(family(boathouse), 'inserts', strip).groups;
    expect(empty?.keys).toEqual(['inserts/1/kind', 'inserts/1/on']);
    expect(drive?.keys).toEqual(['inserts/2/kind', 'inserts/2/on', 'inserts/2/drive/amount', 'inserts/2/drive/tone']);
  });

  test('nothing of any strip is left out but what its slots do not hold', () => {
    for (const profile of [quay, skiff])
      for (const f of profile.families) {
        const shown = f.sections.flatMap((section) => {
          const { singles, groups } = settingGroups(f, section, defaultState(profile)[f.strips[0]!]!);
          return [...singles, ...groups.flatMap((group) => group.keys)];
        });
        expect(shown.sort()).toEqual([...f.keys].sort());
      }
  });
});

import fc from 'fast-check';
import { diff3Merge } from 'node-diff3';

import { boathouse, quay } from '@old-echo/testing/profiles';
import { anySettings } from '@old-echo/testing/random-state';

import { combine } from '../../src/combine/combine';
import { nearestCommonAncestor } from '../../src/combine/common-ancestor';
import { findDependencies } from '../../src/combine/find-dependencies';
import { cellOf, mergeStates } from '../../src/combine/merge-states';
import type { Recipe } from '../../src/combine/recipe';
import { recipeParents } from '../../src/combine/recipe';
import { CONFLICT_RULES, resolveConflicts } from '../../src/combine/resolve-conflicts';
import { recipeShape } from '../../src/contracts/combination';
import { diffStates } from '../../src/desk/diff-states';
import { fingerprint } from '../../src/desk/fingerprint';
import { defaultState, type SettingsByAddress, type State, valueAt, withSettings } from '../../src/desk/state';
import { describeOrigins } from '../../src/phrases/describe-origins';
import { plainText } from '../../src/phrases/phrase';

const start = defaultState(boathouse);
const moved = (settings: SettingsByAddress, from: State = start) => withSettings(from, settings);
const any = anySettings(boathouse).map((settings) => moved(settings));
const [O, A, B] = ['o', 'a', 'b'] as const;

/** What a recipe makes of the scenes o, a and b. */
const made = (states: Readonly<Record<string, State>>, recipe: Partial<Recipe>, profile = boathouse) =>
  combine(profile, { base: A, merge: null, picks: {}, ...recipe }, (scene) => states[scene] as State);

describe('three ways', () => {
  const merge = (o: State, a: State, b: State) => mergeStates(boathouse, o, a, b);

  test('with one side as it was, it is the other; twice the same is the same (algebra)', () => {
    fc.assert(
      fc.property(any, any, (o, a) => {
        for (const [mine, theirs] of [
          [a, o],
          [o, a],
          [a, a],
        ] as const) {
          const { state, conflicts } = merge(o, mine, theirs);
          expect([diffStates(boathouse, state, a), conflicts]).toEqual([[], []]);
        }
      }),
    );
  });

  test('swapping the sides swaps nothing but who is mine (algebra)', () => {
    fc.assert(
      fc.property(any, any, any, (o, a, b) => {
        const [one, other] = [merge(o, a, b), merge(o, b, a)];
        expect(other.conflicts.map(cellOf)).toEqual(one.conflicts.map(cellOf));
        const addresses = (of: typeof one) =>
          of.conflicts.flatMap(({ changes }) => changes.map(({ address }) => address));
        expect(addresses(other)).toEqual(addresses(one));
        // Where they are at odds each stands as its own side; everywhere else they are the same.
        const odd = new Set(addresses(one));
        expect(diffStates(boathouse, one.state, other.state).every(({ address }) => odd.has(address))).toBe(true);
      }),
    );
  });

  test('no side is ever changed, and a merge of what was merged already changes nothing', () => {
    fc.assert(
      fc.property(any, any, any, (o, a, b) => {
        const before = [o, a, b].map(fingerprint);
        const once = merge(o, a, b);
        // Now b is behind both, so it is their nearest parent.
        expect(merge(b, once.state, b).state).toEqual(once.state);
        expect([o, a, b].map(fingerprint)).toEqual(before);
      }),
    );
  });

  test('what only one side changed is taken; an EQ that both changed is a conflict as a whole, sends are one by one', () => {
    const a = moved({
      'in.1/eq/2/gain': 3,
      'in.1/sends/fx.1/level': -10,
      'in.2/fader/level': -5,
      'in.3/mute/on': true,
    });
    const b = moved({
      'in.1/eq/3/gain': -4,
      'in.1/sends/fx.2/level': -12,
      'in.2/fader/level': -8,
      'in.3/mute/on': true,
    });
    const { state, taken, conflicts } = merge(start, a, b);
    expect(taken).toEqual(['in.1/sends']);
    expect(conflicts.map(cellOf)).toEqual(['in.1/eq', 'in.2/fader']);
    expect(conflicts[1]?.changes).toMatchObject([{ was: -5, now: -8 }]);
    expect(state['in.1']).toMatchObject({
      'sends/fx.1/level': -10,
      'sends/fx.2/level': -12,
      'eq/2/gain': 3,
      'eq/3/gain': 0,
    });
  });

  test('a strip that one side removed is gone, unless the other changed it; a renamed one keeps its other changes', () => {
    const without = (state: State, strip: string) =>
      Object.fromEntries(Object.entries(state).filter(([of]) => of !== strip));
    const changed = moved({ 'in.4/fader/level': -7 });
    expect(merge(start, start, without(start, 'in.4')).state['in.4']).toBeUndefined();
    expect(merge(start, without(start, 'in.4'), start).state['in.4']).toBeUndefined();
    expect(merge(start, without(start, 'in.4'), changed).state['in.4']).toBe(changed['in.4']);
    expect(merge(without(start, 'in.4'), without(start, 'in.4'), changed).state['in.4']).toBe(changed['in.4']);
    const added = merge(without(start, 'in.4'), moved({ 'in.4/fader/level': -3 }), changed);
    expect([added.state['in.4']?.['fader/level'], added.conflicts.map(cellOf)]).toEqual([-3, ['in.4/fader']]);
    const renamed = merge(start, moved({ 'in.4/label/name': 'Fiddle' }), changed);
    expect([renamed.state['in.4']?.['label/name'], renamed.state['in.4']?.['fader/level']]).toEqual(['Fiddle', -7]);
  });
});

test('settings that stand on their own merge as lines do in node-diff3', () => {
  const keys = ['fader/level', 'mute/on', 'sends/fx.1/level', 'sends/fx.2/level', 'routing/group.1'];
  const addresses = ['in.1', 'in.2', 'in.9'].flatMap((strip) => keys.map((key) => `${strip}/${key}`));
  const some = anySettings(boathouse, 10, addresses).map((settings) => moved(settings));
  /** Each behind a line that nobody changes, so that neighbours are not at odds. */
  const lines = (state: State) =>
    addresses.flatMap((address) => [address, `${address} ${String(valueAt(state, address))}`]);
  fc.assert(
    fc.property(some, some, some, (o, a, b) => {
      const ours = mergeStates(boathouse, o, a, b);
      const theirs = diff3Merge(lines(a), lines(o), lines(b));
      const odd = ours.conflicts.flatMap(({ changes }) =>
        changes.map(({ address, was }) => `${address} ${String(was)}`),
      );
      expect(odd.sort()).toEqual(theirs.flatMap(({ conflict }) => conflict?.a ?? []).sort());
      expect(lines(ours.state)).toEqual(theirs.flatMap(({ ok, conflict }) => ok ?? conflict?.a ?? []));
    }),
  );
});

test('the nearest common parent is found behind earlier merges', () => {
  // o – a1 – a2 – m – a3, where m also comes from b1 of o – b1 – b2.
  const parents: Record<string, string[]> = {
    o: [],
    a1: ['o'],
    a2: ['a1'],
    b1: ['o'],
    b2: ['b1'],
    m: ['a2', 'b1'],
    a3: ['m'],
    x: [],
  };
  const of = (scene: string) => parents[scene] ?? [];
  expect([
    nearestCommonAncestor(of, 'a2', 'b2'),
    nearestCommonAncestor(of, 'a3', 'b2'),
    nearestCommonAncestor(of, 'a3', 'a1'),
    nearestCommonAncestor(of, 'a3', 'a3'),
    nearestCommonAncestor(of, 'a3', 'x'),
  ]).toEqual(['o', 'b1', 'a1', 'a3', null]);
  // Brought together crosswise: two are nearest, and the newer one counts.
  const cross = (scene: string) => ({ p: ['k1', 'k2'], q: ['k2', 'k1'], k1: ['o'], k2: ['o'] })[scene] ?? [];
  expect(nearestCommonAncestor(cross, 'p', 'q')).toBe('k2');
});

describe('picking', () => {
  const a = moved({ 'in.5/label/name': 'Frame drum', 'in.5/fader/level': -9 });
  const b = moved({ 'in.5/fader/level': -3, 'in.5/eq/1/gain': 4, 'in.7/automation/fader': [[0, -6]] }, a);

  test('cells come from where they were picked, everything else from the base, and each can say from where', () => {
    const { state, origins, missing } = made({ a, b }, { picks: { 'in.5/fader': B, 'in.9/nothing': B } });
    expect(diffStates(boathouse, a, state).map(({ address }) => address)).toEqual(['in.5/fader/level']);
    expect([origins, missing]).toEqual([{ 'in.5/fader': B }, ['in.9/nothing']]);
    expect(made({ a, b }, {}).state).toEqual(a);
  });

  test('what the other scene has not got stays as in the base', () => {
    const { 'eq/on': _, ...strip } = moved({ 'in.5/eq/1/gain': 4 })['in.5']!;
    const base = moved({ 'in.5/eq/on': true });
    const { state, missing } = made({ a: base, b: { ...start, 'in.5': strip } }, { picks: { 'in.5/eq': B } });
    expect([state['in.5']?.['eq/on'], state['in.5']?.['eq/1/gain'], missing]).toEqual([true, 4, []]);
  });

  test('taking every cell of another scene is that scene (algebra)', () => {
    fc.assert(
      fc.property(any, any, (one, other) => {
        const cells = diffStates(boathouse, one, other).map(cellOf);
        const { state } = made({ a: one, b: other }, { picks: Object.fromEntries(cells.map((cell) => [cell, B])) });
        expect(diffStates(boathouse, state, other)).toEqual([]);
      }),
    );
  });

  test('a sentence says what comes from where', () => {
    const say = (origins: Record<string, string>) =>
      plainText(describeOrigins(boathouse, a, origins, (scene) => scene.toUpperCase(), A));
    expect(say({})).toBe('Everything is from A.');
    expect(say({ 'in.5/fader': B, 'in.5/eq': B, 'in.7/automation': O })).toBe(
      'Frame drum from B, automation on Strip 7 from O, the rest from A.',
    );
  });

  test('a recipe names scenes for cells, and its parents are all of them', () => {
    const id = (n: number) => `01ARZ3NDEKTSV4RRFFQ69G5FA${n}`;
    const recipe = recipeShape.validateSync({
      base: id(1),
      merge: null,
      picks: { 'in.1/eq': id(2), 'in.2/eq': id(1) },
    });
    expect(recipeParents(recipe)).toEqual([id(1), id(2)]);
    expect(() => recipeShape.validateSync({ base: id(1), picks: { 'in.1/eq': 7 } })).toThrow();
  });
});

describe('conflicts', () => {
  const mine = moved({
    'in.1/fader/level': -5,
    'in.2/fader/level': -20,
    'in.3/sends/fx.1/level': -10,
    'in.3/sends/fx.2/level': -10,
  });
  const theirs = moved({
    'in.1/fader/level': -12,
    'in.2/fader/level': -6,
    'in.3/sends/fx.1/level': -20,
    'in.3/sends/fx.3/level': -7,
  });
  const states = { o: start, a: mine, b: theirs };
  const merge = { scene: B, parent: O };

  test('stand as mine until they are settled, one by one or by a rule', () => {
    const open = made(states, { merge });
    expect(open.unsettled.map(cellOf)).toEqual(['in.1/fader', 'in.2/fader', 'in.3/sends']);
    const one = made(states, { merge, picks: { 'in.1/fader': B, 'in.2/fader': A } });
    expect(one.unsettled.map(cellOf)).toEqual(['in.3/sends']);
    expect([one.state['in.1']?.['fader/level'], one.state['in.2']?.['fader/level']]).toEqual([-12, -20]);
    const line = (scene: string, state: State, madeAt: string) => ({ scene, state, madeAt });
    const by = Object.fromEntries(
      CONFLICT_RULES.map((rule) => [
        rule,
        Object.values(
          resolveConflicts(
            boathouse,
            line(A, mine, '2026-11-25T20:00:00Z'),
            line(B, theirs, '2026-11-25T19:00:00Z'),
            open.conflicts,
            rule,
          ),
        ).join(''),
      ]),
    );
    expect(by).toEqual({ mine: 'aaa', theirs: 'bbb', newer: 'aaa', louder: 'aba' });
  });

  test('the newer rule goes by the moment: theirs where that is later, mine where it is the same', () => {
    const { conflicts } = made(states, { merge });
    const newer = (at: string) =>
      Object.values(
        resolveConflicts(
          boathouse,
          { scene: A, state: mine, madeAt: '2026-11-25T20:00:00Z' },
          { scene: B, state: theirs, madeAt: at },
          conflicts,
          'newer',
        ),
      ).join('');
    // The same moment, said from two time zones, is the same.
    expect(
      ['2026-11-25T20:00:01Z', '2026-11-25T19:59:59Z', '2026-11-25T21:00:00+01:00', '2026-11-25T20:30:00+01:00'].map(
        newer,
      ),
    ).toEqual(['bbb', 'aaa', 'aaa', 'aaa']);
  });

  test('lanes of automation are at odds one by one', () => {
    const lane = (level: number): SettingsByAddress[string] => [[0, level]];
    const { state, conflicts } = mergeStates(
      boathouse,
      start,
      moved({ 'in.1/automation/fader': lane(-6), 'in.1/automation/inserts/1': lane(10) }),
      moved({ 'in.1/automation/pan': lane(20), 'in.1/automation/inserts/2': lane(30) }),
    );
    expect(conflicts).toEqual([]);
    expect(state['in.1']).toMatchObject({
      'automation/fader': lane(-6),
      'automation/pan': lane(20),
      'automation/inserts/1': lane(10),
      'automation/inserts/2': lane(30),
    });
  });

  test('a cell at odds that is taken from a third scene comes whole, not only where the two are at odds', () => {
    const third = moved({ 'in.3/sends/fx.1/level': -1, 'in.3/sends/fx.4/level': -2 });
    const { state, unsettled } = made({ ...states, t: third }, { merge, picks: { 'in.3/sends': 't' } });
    expect(state['in.3']).toMatchObject({
      'sends/fx.1/level': -1,
      'sends/fx.2/level': start['in.3']?.['sends/fx.2/level'],
      'sends/fx.4/level': -2,
    });
    expect(unsettled.map(cellOf)).toEqual(['in.1/fader', 'in.2/fader']);
  });

  test('settled for mine, what of theirs was no matter of dispute stays taken, and is told as theirs', () => {
    const { state, origins } = made(states, { merge, picks: { 'in.3/sends': A } });
    expect(state['in.3']).toMatchObject({ 'sends/fx.1/level': -10, 'sends/fx.3/level': -7 });
    expect(origins).toEqual({ 'in.3/sends': B });
  });

  test('what came from theirs without dispute and is taken from mine again is mine, and no longer told', () => {
    const more = moved({ 'in.6/fader/level': -4 }, theirs);
    const merged = made({ ...states, b: more }, { merge });
    expect(merged.origins).toMatchObject({ 'in.6/fader': B });
    const back = made({ ...states, b: more }, { merge, picks: { 'in.6/fader': A } });
    expect([back.state['in.6']?.['fader/level'], 'in.6/fader' in back.origins]).toEqual([-90, false]);
  });

  test('settling the sends for theirs leaves the send that only I changed', () => {
    const { state } = made(states, { merge, picks: { 'in.3/sends': B } });
    expect(state['in.3']).toMatchObject({ 'sends/fx.1/level': -20, 'sends/fx.2/level': -10, 'sends/fx.3/level': -7 });
  });
});

const OPEN_SEND = { 'in.1/sends/fx.1/level': -12 };
const IN_DCA = { 'in.1/routing/dca.1': true };
const MUTED_DCA = { 'dca.1/mute/on': true };
const ECHO = { 'in.1/inserts/2/kind': 'echo' };
const LANE = { 'in.1/automation/inserts/2': [[0, 50]] };
const PAIR = { 'in.1/source/link': true };

describe('what was taken leans on', () => {
  const check = (
    profile: typeof boathouse,
    here: SettingsByAddress,
    there: SettingsByAddress,
    picks: readonly string[],
  ) => {
    const [a, b] = [here, there].map((settings) => withSettings(defaultState(profile), settings)) as [State, State];
    const states = { a, b };
    const result = made(states, { picks: Object.fromEntries(picks.map((cell) => [cell, B])) }, profile);
    const found = findDependencies(profile, result.state, result.origins, (scene) => states[scene as 'a' | 'b']);
    const after = [...picks, ...found.flatMap(({ fix }) => fix)];
    const fixed = made(states, { picks: Object.fromEntries(after.map((cell) => [cell, B])) }, profile);
    // Whatever is offered mends it.
    expect(
      findDependencies(profile, fixed.state, fixed.origins, (scene) => states[scene as 'a' | 'b']).filter(({ kind }) =>
        found.some((one) => one.kind === kind),
      ),
    ).toEqual([]);
    return found.map(({ kind, strips, on, fix }) => [kind, strips.join(' '), on, fix.join(' ')]);
  };

  test.each([
    [
      'an effect that was another',
      boathouse,
      { 'fx.1/inserts/kind': 'hall' },
      { 'fx.1/inserts/kind': 'plate', 'in.1/sends/fx.1/level': -12 },
      ['in.1/sends'],
      [['return', 'in.1', 'fx.1', 'fx.1/inserts']],
    ],
    [
      'a DCA at another level',
      quay,
      { 'dca.1/fader/level': -8, 'in.1/routing/dca.1': false },
      { 'dca.1/fader/level': 0, 'in.1/routing/dca.1': true },
      ['in.1/routing'],
      [['level', 'in.1', 'dca.1', 'dca.1/fader']],
    ],
    [
      'a DCA with other members',
      quay,
      {},
      { 'in.1/routing/dca.2': true, 'in.6/routing/dca.2': true },
      ['in.1/routing'],
      [['members', 'in.1', 'dca.2', 'in.6/routing']],
    ],
    [
      'a DCA that is muted here',
      quay,
      { 'dca.3/mute/on': true },
      { 'in.1/routing/dca.3': true },
      ['in.1/routing'],
      [['muted', 'in.1', 'dca.3', 'dca.3/mute']],
    ],
    [
      'a mute group that is closed here',
      quay,
      { 'mutegroup.2/mute/on': true },
      { 'in.1/routing/mutegroup.2': true },
      ['in.1/routing'],
      [['muted', 'in.1', 'mutegroup.2', 'mutegroup.2/mute']],
    ],
    [
      'automation without its processor',
      boathouse,
      {},
      { 'in.1/inserts/2/kind': 'echo', 'in.1/automation/inserts/2': [[0, 50]] },
      ['in.1/automation'],
      [['processor', 'in.1', 'in.1', 'in.1/inserts']],
    ],
    [
      'half of a pair',
      boathouse,
      { 'in.1/source/link': true },
      { 'in.1/source/link': true, 'in.1/eq/1/gain': 3, 'in.2/eq/1/gain': 3 },
      ['in.1/eq'],
      [['pair', 'in.1', 'in.2', 'in.2/eq']],
    ],
  ] as const)('%s', (_, profile, here, there, picks, expected) => {
    expect(check(profile, here as SettingsByAddress, there as unknown as SettingsByAddress, picks)).toEqual(expected);
  });

  test.each([
    ['a send that is shut', boathouse, {}, { 'in.1/sends/fx.1/level': -90 }, 'in.1/sends'],
    ['a send that is off', boathouse, {}, { 'in.1/sends/fx.1/on': false, 'in.1/sends/fx.1/level': -12 }, 'in.1/sends'],
    ['a fader, although sends go where another effect is', boathouse, OPEN_SEND, OPEN_SEND, 'in.1/fader'],
    ['the EQ of a strip under a DCA', quay, IN_DCA, IN_DCA, 'in.1/eq'],
    ['the routing of a strip that has left its DCA', quay, { 'dca.1/fader/level': -8 }, {}, 'in.1/routing'],
    [
      'the fader of a strip of whose DCA others are members',
      quay,
      IN_DCA,
      { 'in.6/routing/dca.1': true },
      'in.1/fader',
    ],
    ['a strip that is muted itself', quay, MUTED_DCA, { ...IN_DCA, 'in.1/mute/on': true }, 'in.1/mute'],
    ['a strip whose DCA was muted there too', quay, MUTED_DCA, { ...IN_DCA, ...MUTED_DCA }, 'in.1/mute'],
    ['a lane of a processor that is the same', boathouse, ECHO, { ...ECHO, ...LANE }, 'in.1/automation'],
    ['a lane without a point', boathouse, {}, { ...ECHO, 'in.1/automation/inserts/2': [] }, 'in.1/automation'],
    ['a lane of the fader', boathouse, {}, { ...ECHO, 'in.1/automation/fader': [[0, -6]] }, 'in.1/automation'],
    ['the EQ beside a lane', boathouse, LANE, { ...ECHO, ...LANE }, 'in.1/eq'],
    ['the EQ of a strip that is not linked', boathouse, {}, { 'in.2/eq/1/gain': 3 }, 'in.1/eq'],
    ['the name of half a pair', boathouse, PAIR, { ...PAIR, 'in.2/label/name': 'Harp' }, 'in.1/label'],
    ['the colour of half a pair', boathouse, PAIR, { ...PAIR, 'in.2/view/hidden': true }, 'in.1/view'],
    ['the source of half a pair', boathouse, PAIR, { ...PAIR, 'in.2/source/socket': 'x' }, 'in.1/source'],
  ] as const)('nothing: %s', (_, profile, here, there, cell) => {
    const also = { 'fx.1/inserts/kind': 'plate', 'dca.1/fader/level': 0 };
    const both = { ...also, 'in.1/label/note': 'taken' } as SettingsByAddress;
    expect(check(profile, here as SettingsByAddress, { ...(there as SettingsByAddress), ...both }, [cell])).toEqual([]);
  });

  test.each(['fader', 'mute'])('a DCA at another level, where the %s was taken', (section) => {
    const there = { ...IN_DCA, 'dca.1/fader/level': -8, 'in.1/fader/level': -3, 'in.1/mute/on': true };
    expect(check(quay, IN_DCA, there, [`in.1/${section}`])).toEqual([['level', 'in.1', 'dca.1', 'dca.1/fader']]);
  });

  test('a DCA that mutes an open strip here, where its mute was taken', () => {
    expect(check(quay, { ...IN_DCA, ...MUTED_DCA, 'in.1/mute/on': true }, IN_DCA, ['in.1/mute'])).toEqual([
      ['muted', 'in.1', 'dca.1', 'dca.1/mute'],
    ]);
  });

  test('several lean in the order of the desk, and what leans on one thing is told together', () => {
    const there = { 'dca.1/fader/level': -8, 'dca.2/fader/level': -4 };
    const members = { 'in.1/routing/dca.2': true, 'in.2/routing/dca.1': true, 'in.3/routing/dca.2': true };
    expect(check(quay, members, { ...there, ...members }, ['in.3/fader', 'in.1/fader', 'in.2/fader'])).toEqual([
      ['level', 'in.2', 'dca.1', 'dca.1/fader'],
      ['level', 'in.3 in.1', 'dca.2', 'dca.2/fader'],
    ]);
  });

  test('nothing, where it is the same in both', () => {
    expect(
      check(boathouse, {}, { 'in.1/sends/fx.1/level': -12, 'in.1/fader/level': -3 }, ['in.1/sends', 'in.1/fader']),
    ).toEqual([]);
  });
});

import fc from 'fast-check';

import { quay, skiff } from '@old-echo/testing/profiles';
import { anyState } from '@old-echo/testing/random-state';
import { runs } from '@old-echo/testing/runs';

import { type Profile, stripFamily } from '../../src/desk/profile';
import type { Value } from '../../src/desk/setting';
import { defaultState, valueAt, withSettings } from '../../src/desk/state';
import { convertScene } from '../../src/library/convert-scene';
import { bestAssignment, matchStrips, similarity } from '../../src/library/match-strips';
import { suggestPart } from '../../src/library/suggest-part';
import { preview } from '../../src/recall/preview';
import { ALL_WITH_GLOBALS } from '../../src/recall/scope-rules';

describe('linked pairs on another desk', () => {
  const strips = ['in.1', 'in.2', 'in.3', 'in.4', 'in.5', 'in.6', 'in.7', 'in.8'];
  const names = fc.record(
    Object.fromEntries(strips.map((s) => [s, fc.constantFrom('Fiddle', 'Wren', 'Tam', 'Accordion', 'Drum', '')])),
  );
  const links = fc.subarray(['in.1', 'in.3', 'in.5', 'in.7']);
  const named = (profile: Profile, of: Record<string, string>, linked: readonly string[]) =>
    withSettings(defaultState(profile), {
      ...Object.fromEntries<Value>(
        strips.flatMap((s) => [
          [`${s}/label/name`, of[s]!],
          [`${s}/fader/level`, -10],
        ]),
      ),
      ...Object.fromEntries<Value>(linked.map((s) => [`${s}/source/link`, true])),
    });

  test('whatever strips are called there, a pair lands side by side or is unlinked, and never linked to a stranger', () => {
    let together = 0;
    fc.assert(
      fc.property(names, names, links, (here, there, linked) => {
        const scene = named(quay, here, linked);
        const from = { profile: quay, state: scene, parts: {} };
        const to = { profile: skiff, state: named(skiff, there, []), parts: {} };
        const matches = matchStrips(from, to);
        const { state } = convertScene(quay, scene, skiff, matches);
        const origins = new Map(matches.flatMap((m) => (m.to === null ? [] : [[m.to, m.from] as const])));
        expect(origins.size).toBe(matches.filter((m) => m.to !== null).length);
        for (const [strip, settings] of Object.entries(state)) {
          if (settings['source/link'] !== true) continue;
          together++;
          const next = `in.${Number(strip.slice(3)) + 1}`;
          const [one, other] = [origins.get(strip)!, origins.get(next)!];
          expect([linked.includes(one), other]).toEqual([true, `in.${Number(one.slice(3)) + 1}`]);
        }
      }),
      { numRuns: runs(300) },
    );
    expect(together).toBeGreaterThan(runs(300) / 5);
  });

  test('where hands tear a pair apart, it is unlinked and the report says so', () => {
    const scene = named(quay, Object.fromEntries(strips.map((s) => [s, s])), ['in.1']);
    const matches = [
      { from: 'in.1', to: 'in.5', why: 'hand' as const },
      { from: 'in.2', to: 'in.9', why: 'hand' as const },
    ];
    const { state, notes } = convertScene(quay, scene, skiff, matches);
    expect(state['in.5']?.['source/link']).toBe(false);
    expect(notes).toContainEqual(expect.objectContaining({ strip: 'in.5', key: 'source/link', to: false }));
  });
});

describe('who goes where', () => {
  /** The best sum of any one-to-one assignment, by trying all of them. */
  function best(rows: readonly (readonly number[])[], taken: readonly number[] = []): number {
    const [row, ...rest] = rows;
    if (!row) return 0;
    const choices = row.flatMap((value, i) => (taken.includes(i) ? [] : [value + best(rest, [...taken, i])]));
    return Math.max(best(rest, taken), ...choices);
  }

  test('the assignment is as good as the best of all there are', () => {
    const matrix = fc.tuple(fc.integer({ min: 1, max: 5 }), fc.integer({ min: 1, max: 5 })).chain(([n, m]) =>
      fc.array(fc.array(fc.integer({ min: 0, max: 20 }), { minLength: m, maxLength: m }), {
        minLength: n,
        maxLength: n,
      }),
    );
    fc.assert(
      fc.property(matrix, (likes) => {
        const pairs = bestAssignment(likes);
        const used = pairs.filter((column) => column !== undefined);
        expect(new Set(used).size).toBe(used.length);
        const sum = pairs.reduce<number>(
          (total, column, row) => total + (column === undefined ? 0 : likes[row]![column]!),
          0,
        );
        expect(sum).toBe(best(likes));
      }),
      { numRuns: runs(200) },
    );
  });

  test('names of the trade that mean the same are the same part; sides and numbers stay apart', () => {
    expect(suggestPart('Wren vox')).toBe(suggestPart('Wren Vocal'));
    expect(suggestPart('Accordion L')).toBe('accordion left');
    expect(suggestPart('Accordion L')).not.toBe(suggestPart('Accordion R'));
    expect(suggestPart('Upright bass mic')).toBe('upright bass');
    const named = (name: string, part: string | null = null) => ({ strip: 'in.1', name, part });
    expect(similarity(named('Fiddle', 'lead'), named('Fiddle', 'second'))).toBe(0);
    expect(similarity(named('A', 'lead'), named('B', 'lead'))).toBe(2);
    expect(similarity(named('Fiddle'), named('Snare'))).toBe(0);
  });

  test('parts win over names, hands over both; nobody has two places, and no place two strips', () => {
    const show = withSettings(defaultState(quay), {
      'in.1/label/name': 'Fiddle',
      'in.2/label/name': 'Viola',
      'in.3/label/name': 'Drum',
    });
    const small = withSettings(defaultState(skiff), { 'in.5/label/name': 'Fiddle', 'in.6/label/name': 'Strings' });
    const from = { profile: quay, state: show, parts: { 'in.2': 'strings' } };
    const to = { profile: skiff, state: small, parts: { 'in.6': 'strings' } };
    const found = (hands = {}) =>
      Object.fromEntries(matchStrips(from, to, hands).map(({ from: strip, to: onto, why }) => [strip, [onto, why]]));
    expect(found()).toMatchObject({ 'in.1': ['in.5', 'name'], 'in.2': ['in.6', 'part'], 'in.3': ['in.1', 'free'] });
    expect(found({ 'in.1': 'in.9', 'in.3': null })).toMatchObject({
      'in.1': ['in.9', 'hand'],
      'in.3': [null, 'hand'],
    });
    const places = matchStrips(from, to).flatMap(({ to: onto }) => onto ?? []);
    expect(new Set(places).size).toBe(places.length);
  });

  test('names that a smaller desk must shorten stay apart from one another', () => {
    const scene = withSettings(defaultState(quay), {
      'in.1/label/name': 'Frame drum, low',
      'in.2/label/name': 'Frame drum, high',
      'in.3/label/name': 'Frame drum, low',
      'in.4/label/name': 'Fiddle',
    });
    const matches = [1, 2, 3, 4].map((n) => ({ from: `in.${n}`, to: `in.${n}`, why: 'name' as const }));
    const { state, notes } = convertScene(quay, scene, skiff, matches);
    const labels = [1, 2, 3, 4].map((n) => String(valueAt(state, `in.${n}/label/name`)));
    const longest = stripFamily(skiff, 'in.1')!.settings['label/name'];
    expect(new Set(labels).size).toBe(4);
    expect(labels[3]).toBe('Fiddle');
    expect(labels[1]).toMatch(/^Fra.* high$/);
    if (longest?.kind === 'text') for (const label of labels) expect(label.length).toBeLessThanOrEqual(longest.longest);
    // What is told of them is what they came to be called.
    for (const n of [1, 2, 3])
      expect(notes.find((note) => note.strip === `in.${n}` && note.key === 'label/name')?.to).toBe(labels[n - 1]);
  });

  test('a carried scene holds what came along, and restored brings nothing else', () => {
    fc.assert(
      fc.property(anyState(quay, 80), anyState(skiff, 80), (scene, now) => {
        const matches = [{ from: 'in.1', to: 'in.2', why: 'name' as const }];
        const { state, settings } = convertScene(quay, scene, skiff, matches);
        expect(Object.keys(state)).toEqual(['in.2']);
        expect(Object.keys(state['in.2']!)).toHaveLength(settings);
        expect(state['in.2']).not.toHaveProperty(['source/socket']);
        const { changes } = preview({
          profile: skiff,
          now,
          target: state,
          scope: ALL_WITH_GLOBALS,
          safes: [],
          mode: 'live',
        });
        expect(changes.every(({ address, to }) => address.startsWith('in.2/') && valueAt(state, address) === to)).toBe(
          true,
        );
      }),
      { numRuns: 40 },
    );
  });
});

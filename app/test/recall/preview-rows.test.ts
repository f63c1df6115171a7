import { TextEncoder } from 'node:util';

import { sceneRecall } from '@old-echo/core/contracts/restore';
import { defaultState, type SettingsByAddress, withSettings } from '@old-echo/core/desk/state';
import { preview } from '@old-echo/core/recall/preview';
import { ALL_EXCEPT_GLOBALS } from '@old-echo/core/recall/scope-rules';
import {
  EMPTY_SELECTION,
  pickSettings,
  pickStrips,
  scopeToSelection,
  setCells,
} from '@old-echo/core/recall/scope-selection';
import { quay } from '@old-echo/testing/profiles';

import { previewHref, readRecall } from '../../src/components/links/recall-link';
import { previewDiff } from '../../src/recall/preview-diff';
import { rowsOf } from '../../src/recall/preview-rows';
import { checkState } from '../../src/recall/strip-check-state';

// Fingerprints need it, and the simulated browser has none.
Object.assign(globalThis, { TextEncoder });

const base = withSettings(defaultState(quay), {
  'main.1/fader/level': 0,
  'mix.1/fader/level': 0,
  'in.1/fader/level': -20,
  'in.2/fader/level': -20,
});
const plan = (now: SettingsByAddress, to: SettingsByAddress) =>
  preview({
    profile: quay,
    now: withSettings(base, now),
    target: withSettings(base, to),
    scope: ALL_EXCEPT_GLOBALS,
    safes: [],
    mode: 'live',
  });

describe('what the desk has done to a preview since it was looked at', () => {
  const first = plan({}, { 'in.1/pan/position': 10, 'in.2/pan/position': 10 });
  test.each<[string, SettingsByAddress, string | undefined]>([
    ['nothing', {}, undefined],
    ['a change more', { 'in.3/pan/position': 4 }, '1 change added.'],
    ['one less', { 'in.1/pan/position': 10 }, '1 change no longer needed.'],
    [
      'a hand that rides two of them, which is worked in',
      { 'in.1/pan/position': 3, 'in.2/pan/position': 3 },
      undefined,
    ],
  ])('%s', (_, now, told) => {
    expect(previewDiff(first, plan(now, { 'in.1/pan/position': 10, 'in.2/pan/position': 10 }))).toBe(told);
  });
});

test('strips stand by what they risk: the mains first, then mixes, then the rest under their families', () => {
  const rows = rowsOf(
    quay,
    plan({}, { 'in.1/fader/level': -5, 'in.2/sends/mix.1/level': -5, 'in.3/pan/position': 9, 'fx.1/pan/position': 9 }),
  );
  expect(rows.map((row) => (row.kind === 'band' ? row.title.split(' ·')[0] : row.key))).toEqual([
    'Louder in a main or matrix',
    'in.1',
    'Louder in a mix',
    'in.2',
    'Inputs',
    'in.3',
    'Effect returns',
    'fx.1',
  ]);
});

test.each([
  ['all of the chosen sections', scopeToSelection(quay, ALL_EXCEPT_GLOBALS), 'all'],
  ['all but one section', setCells(quay, scopeToSelection(quay, ALL_EXCEPT_GLOBALS), ['in.3'], ['eq'], false), 'some'],
  ['a single setting by itself', pickSettings(EMPTY_SELECTION, ['in.3/eq/on'], true), 'some'],
  ['not chosen', pickStrips(scopeToSelection(quay, ALL_EXCEPT_GLOBALS), ['in.3'], false), 'none'],
  [
    'every section left',
    setCells(quay, scopeToSelection(quay, ALL_EXCEPT_GLOBALS), ['in.3'], quay.families[0]!.sections, false),
    'none',
  ],
])('a strip’s tick: %s', (_, choice, tick) => {
  expect(checkState(quay, choice, 'in.3')).toBe(tick);
});

test('a recall goes into an address and comes out of it; anything else in its place is not one', () => {
  const id = '01M88KKM5EE60HA6XZ3PE5DD7R';
  const recall = sceneRecall(id, id, ALL_EXCEPT_GLOBALS, { onto: [{ from: 'in.3', to: ['in.4'] }], relativeTo: id });
  const text = new URL(previewHref(recall) as string, 'http://localhost').searchParams.get('recall') ?? '';
  expect(readRecall({ deskId: id, sceneId: id }, text)).toEqual(recall);
  for (const wrong of [undefined, '', '{', '[]', '{"scope": "all"}', '{"scope": [], "colour": 1}'])
    expect(readRecall({ deskId: id, sceneId: id }, wrong)).toBeUndefined();
});

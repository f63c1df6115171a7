import type { VersionView } from '@old-echo/core/contracts/production';
import type { SceneView } from '@old-echo/core/contracts/scene';

import { parseTags } from '../../src/components/parse-tags';
import { groupAutosaves } from '../../src/scenes/group-autosaves';
import { graphInRow, lanesOf } from '../../src/scenes/version-graph';

const version = (id: string, oldest: number, newest: number, fromPlace: number | null): VersionView => ({
  id,
  name: id,
  note: '',
  status: 'working',
  fromSceneId: null,
  followsId: null,
  fromPlace,
  newestSceneId: null,
  places: { oldest, newest },
  scenes: 1,
  binnedAt: null,
  revision: 1,
});

const drawn = (lanes: ReturnType<typeof lanesOf>, rows: readonly [number: number, lane: number][]) =>
  rows.map(([number, lane]) => {
    const { strokes, joints } = graphInRow(lanes, { lane, high: number, low: number });
    return [...strokes.map((s) => `${s.lane}:${s.from}-${s.to}`), ...joints.map((joint) => `${joint} bends in`)];
  });

test('a version bends into the scene it was made from, and both lines run unbroken', () => {
  const lanes = lanesOf([version('main', 1, 4, null), version('inst', 3, 3, 2)]);
  expect(
    drawn(lanes, [
      [4, 0],
      [3, 1],
      [2, 0],
      [1, 0],
    ]),
  ).toEqual([['0:dot-foot'], ['0:top-foot', '1:dot-foot'], ['0:top-dot', '0:dot-foot', '1 bends in'], ['0:top-dot']]);
});

test('a version whose source is not shown ends at its own first scene', () => {
  const lanes = lanesOf([version('inst', 3, 5, null)]);
  expect(
    drawn(lanes, [
      [5, 0],
      [3, 0],
    ]),
  ).toEqual([['0:dot-foot'], ['0:top-dot']]);
});

test('a version may bend into a scene that is folded away', () => {
  const lanes = lanesOf([version('main', 1, 9, null), version('inst', 8, 8, 4)]);
  expect(graphInRow(lanes, { lane: 0, high: 5, low: 3 }).joints).toEqual([1]);
});

const scene = (number: number, kind: SceneView['kind']): SceneView => ({
  ...{
    by: '',
    id: `s${number}`,
    productionId: 'p',
    versionId: 'main',
    number,
    place: number,
    name: `Scene ${number}`,
    note: '',
    milestone: '',
  },
  ...{
    tags: [],
    protected: false,
    partial: false,
    kind,
    parents: [],
    parentNumber: null,
    joins: [],
    scope: null,
    binnedAt: null,
    revision: 1,
  },
  ...{ changed: { settings: 0, strips: 0 }, madeAt: '2026-05-01T12:00:00.000Z' },
});

test('what was kept by itself is folded away between the scenes, and opened on request', () => {
  const scenes = [scene(6, 'rested'), scene(5, 'scene'), scene(4, 'way back'), scene(3, 'rested'), scene(2, 'scene')];
  const shown = (open: string[]) =>
    groupAutosaves(scenes, new Set(open)).map((e) =>
      e.kind === 'fold' ? e.scenes.map((s) => s.number) : e.scene.number,
    );
  expect(shown([])).toEqual([[6], 5, [4, 3], 2]);
  expect(shown(['fold-s3'])).toEqual([[6], 5, [4, 3], 4, 3, 2]);
});

test('tags are what stands between commas, each once', () => {
  expect(parseTags(' rehearsal, windy ,, rehearsal')).toEqual(['rehearsal', 'windy']);
});

import type { SceneView } from '@old-echo/core/contracts/scene';

import { tideLines } from '../src/features/mixes/tide-lines';

const scene = (number: number, versionId: string): SceneView => ({
  id: `s${number}`,
  productionId: 'p',
  versionId,
  number,
  name: `Scene ${number}`,
  note: '',
  milestone: '',
  kind: 'scene',
  parents: [],
  scope: null,
  changed: { settings: 0, strips: 0 },
  madeAt: '2026-05-01T12:00:00.000Z',
  revision: 1,
});

const versions = [
  { id: 'main', name: 'Main mix', fromSceneId: null },
  { id: 'inst', name: 'Instrumental', fromSceneId: 's2' },
];

test('a version bends into the scene it was made from, and both lines run unbroken', () => {
  const rows = tideLines(versions, [scene(4, 'main'), scene(3, 'inst'), scene(2, 'main'), scene(1, 'main')]);
  expect(rows.map((row) => row.lane)).toEqual([0, 1, 0, 0]);
  expect(rows.map((row) => row.joints)).toEqual([[], [], [1], []]);
  const drawn = rows.map((row) => row.strokes.map(({ lane, from, to }) => `${lane}:${from}-${to}`));
  expect(drawn).toEqual([['0:dot-foot'], ['0:top-foot', '1:dot-foot'], ['0:top-dot', '0:dot-foot'], ['0:top-dot']]);
});

test('a version whose source is filtered away ends at its own first scene', () => {
  const rows = tideLines([versions[1]!], [scene(5, 'inst'), scene(3, 'inst')]);
  expect(rows.map((row) => row.strokes.map(({ from, to }) => `${from}-${to}`))).toEqual([['dot-foot'], ['top-dot']]);
  expect(rows.every((row) => row.joints.length === 0)).toBe(true);
});

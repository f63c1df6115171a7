import type { SceneView, VersionView } from '@old-echo/core/contracts/scene';

/** A stroke through one row: between the row's top, its dot and its foot, in one lane. */
export interface Stroke {
  readonly lane: number;
  readonly from: 'top' | 'dot';
  readonly to: 'dot' | 'foot';
}

export interface HistoryRow {
  readonly scene: SceneView;
  readonly lane: number;
  readonly strokes: readonly Stroke[];
  /** Lanes of versions that begin from this scene: each bends into the dot from above. */
  readonly joints: readonly number[];
}

/**
 * Lays scenes out as tide lines: one lane per version, the newest scene on top, every version bending into the scene
 * it was made from.
 */
export function tideLines(versions: readonly VersionView[], scenes: readonly SceneView[]): HistoryRow[] {
  const lanes = versions.map((version, lane) => {
    const rows = scenes.flatMap((scene, row) => (scene.versionId === version.id ? [row] : []));
    const joint = scenes.findIndex((scene) => scene.id === version.fromSceneId);
    return { lane, top: rows[0] ?? -1, last: rows.at(-1) ?? -1, joint };
  });
  return scenes.map((scene, row) => {
    const lane = Math.max(
      0,
      versions.findIndex((version) => version.id === scene.versionId),
    );
    const strokes = lanes.flatMap(({ lane: at, top, last, joint }): Stroke[] => {
      const foot = Math.max(last, joint);
      if (top < 0 || row < top || row > foot || (row === joint && row > last)) return [];
      const own = at === lane;
      return [
        ...(row > top ? [{ lane: at, from: 'top', to: own ? 'dot' : 'foot' } as const] : []),
        ...(own && row < foot ? [{ lane: at, from: 'dot', to: 'foot' } as const] : []),
      ];
    });
    return {
      scene,
      lane,
      strokes,
      joints: lanes.filter((l) => l.joint === row && l.top >= 0 && row > l.last).map((l) => l.lane),
    };
  });
}

import type { SceneView } from '@old-echo/core/contracts/scene';

/** A row of the history: a scene, or a run of what was kept by itself, folded away. */
export type SceneListEntry =
  | { readonly kind: 'scene'; readonly key: string; readonly scene: SceneView }
  | { readonly kind: 'fold'; readonly key: string; readonly scenes: readonly SceneView[]; readonly open: boolean };

/**
 * Folds every run of kept scenes into one row, named after the oldest of the run, which stays while newer ones come; where
 * it is open, its scenes follow below it.
 */
export function groupAutosaves(scenes: readonly SceneView[], open: ReadonlySet<string>): SceneListEntry[] {
  const entries: SceneListEntry[] = [];
  let run: SceneView[] = [];
  const close = () => {
    const oldest = run.at(-1);
    if (!oldest) return;
    const key = `fold-${oldest.id}`;
    entries.push({ kind: 'fold', key, scenes: run, open: open.has(key) });
    if (open.has(key)) entries.push(...run.map((scene) => ({ kind: 'scene' as const, key: scene.id, scene })));
    run = [];
  };
  for (const scene of scenes)
    if (scene.kind === 'scene') {
      close();
      entries.push({ kind: 'scene', key: scene.id, scene });
    } else run.push(scene);
  close();
  return entries;
}

/**
 * The nearest common ancestor of two scenes (merge base). After criss-cross merges, the newest. A scene is its own ancestor.
 * @param parentsOf the parents of a scene; ids are ULIDs, which sort by time
 */
export function nearestCommonAncestor(
  parentsOf: (scene: string) => readonly string[],
  a: string,
  b: string,
): string | null {
  const ofB = ancestors(parentsOf, b);
  const common = [...ancestors(parentsOf, a)].filter((scene) => ofB.has(scene));
  // Ancestors of a common ancestor are common too, so one step is enough.
  const farther = new Set(common.flatMap(parentsOf));
  return (
    common
      .filter((scene) => !farther.has(scene))
      .sort()
      .at(-1) ?? null
  );
}

/** A scene and all of its ancestors. */
function ancestors(parentsOf: (scene: string) => readonly string[], scene: string): Set<string> {
  const found = new Set([scene]);
  for (const one of found) for (const parent of parentsOf(one)) found.add(parent);
  return found;
}

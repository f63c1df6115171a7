/**
 * The nearest scene that two scenes both come from: one behind both of them, and behind no other such scene. Of several, after
 * lines were brought together crosswise, the newest. A scene is behind itself.
 * @param parentsOf the parents of a scene; ids are ULIDs, which sort by time
 */
export function nearestCommonAncestor(
  parentsOf: (scene: string) => readonly string[],
  a: string,
  b: string,
): string | null {
  const ofB = outputStage(parentsOf, b);
  const common = [...outputStage(parentsOf, a)].filter((scene) => ofB.has(scene));
  // Whatever is behind a common scene is common as well, so one step tells.
  const farther = new Set(common.flatMap(parentsOf));
  return (
    common
      .filter((scene) => !farther.has(scene))
      .sort()
      .at(-1) ?? null
  );
}

/** A scene and everything it comes from. */
function outputStage(parentsOf: (scene: string) => readonly string[], scene: string): Set<string> {
  const found = new Set([scene]);
  for (const one of found) for (const parent of parentsOf(one)) found.add(parent);
  return found;
}

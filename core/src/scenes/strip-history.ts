import { diffStrip } from '../desk/diff-states';
import { type Profile, stripFamily } from '../desk/profile';
import type { Value } from '../desk/setting';
import type { StripState } from '../desk/state';

/** A scene as far as a strip's past needs it. */
interface SceneRef {
  readonly id: string;
  readonly number: number;
  readonly name: string;
  /** ISO 8601, UTC. */
  readonly madeAt: string;
}

/** A scene in which something of a strip moved, and what it moved to. */
export interface StripChange extends SceneRef {
  readonly moved: Readonly<Record<string, Value>>;
}

/** What became of one strip over the scenes of a version. */
export interface StripHistory {
  readonly strip: string;
  /** Scenes looked at. */
  readonly scenes: number;
  readonly first: SceneRef | null;
  readonly last: SceneRef | null;
  /** Where the settings that ever moved stood in the first scene, by key. */
  readonly start: Readonly<Record<string, Value>>;
  /** The oldest first. */
  readonly moments: readonly StripChange[];
}

/**
 * Follows one strip through scenes, the oldest first. `states` gives what the strip was in each of them; a strip that is
 * the same object as in the scene before is not looked into. `between` may name the settings that can differ between a
 * scene and the one before it.
 */
export function traceStrip(
  profile: Profile,
  strip: string,
  scenes: readonly SceneRef[],
  states: readonly StripState[],
  between: (i: number) => readonly string[] | undefined = () => undefined,
): StripHistory {
  const moments: StripChange[] = [];
  const start: Record<string, Value> = {};
  scenes.forEach((scene, i) => {
    const [before, after] = [states[i - 1], states[i]];
    if (!before || !after || before === after) return;
    const changes = diffStrip(profile, strip, before, after, between(i));
    if (changes.length === 0) return;
    // The first move of a setting tells where it had stood until then.
    for (const { key, was } of changes) start[key] ??= was;
    moments.push({ ...scene, moved: Object.fromEntries(changes.map(({ key, now }) => [key, now])) });
  });
  return { strip, scenes: scenes.length, first: scenes[0] ?? null, last: scenes.at(-1) ?? null, start, moments };
}

/** One setting at the moments it moved, the oldest first; the first point is where it stood at the beginning. */
export interface HistoryPoint extends SceneRef {
  readonly value: Value;
}

/** The values one setting went through, from a strip's past. Empty where it never moved. */
export function settingHistory(past: StripHistory, key: string): HistoryPoint[] {
  const began = past.start[key];
  if (began === undefined || !past.first) return [];
  return [
    { ...past.first, value: began },
    ...past.moments.flatMap(({ moved, ...scene }) => {
      const value = moved[key];
      return value === undefined ? [] : [{ ...scene, value }];
    }),
  ];
}

/** The settings that ever moved, in the order of the profile, with how often each did. */
export function changedKeys(profile: Profile, past: StripHistory): { key: string; times: number }[] {
  const times = new Map<string, number>();
  for (const { moved } of past.moments) for (const key of Object.keys(moved)) times.set(key, (times.get(key) ?? 0) + 1);
  return (stripFamily(profile, past.strip)?.keys ?? []).flatMap((key) => {
    const n = times.get(key);
    return n === undefined ? [] : [{ key, times: n }];
  });
}

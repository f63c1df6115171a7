import type { Value } from '../desk/setting';
import type { StripState } from '../desk/state';

/** One processor in a strip's chain of inserts. */
export interface Insert {
  /** 1 is the first. */
  readonly place: number;
  readonly kind: string;
  readonly on: boolean;
  /** The processor's own settings by name. */
  readonly settings: Readonly<Record<string, Value>>;
}

/** What became of a processor between A and B. */
export interface InsertChange {
  readonly kind: string;
  readonly how: 'same' | 'added' | 'removed' | 'moved' | 'changed';
  /** Its places; undefined on a side that does not have it. */
  readonly a: number | undefined;
  readonly b: number | undefined;
  readonly on: { readonly A: boolean; readonly B: boolean };
}

/** The processors that are loaded on a strip, in order. */
export function insertChain(strip: StripState): Insert[] {
  const chain: Insert[] = [];
  for (let place = 1; strip[`inserts/${place}/kind`] !== undefined; place++) {
    const kind = String(strip[`inserts/${place}/kind`]);
    if (kind === 'empty') continue;
    const own = `inserts/${place}/${kind}/`;
    const settings = Object.fromEntries(
      Object.entries(strip).flatMap(([key, value]) => (key.startsWith(own) ? [[key.slice(own.length), value]] : [])),
    );
    chain.push({ place, kind, on: strip[`inserts/${place}/on`] === true, settings });
  }
  return chain;
}

/**
 * What was added, removed, moved or changed between two chains: first processors of a kind that kept their place, then those
 * of a kind that stand elsewhere, in order; what is left was removed or added.
 */
export function diffInsertChains(a: readonly Insert[], b: readonly Insert[]): InsertChange[] {
  const left = [...b];
  const matched = new Map<Insert, Insert>();
  const match = (fits: (one: Insert, other: Insert) => boolean) => {
    for (const one of a) {
      const at = matched.has(one) ? -1 : left.findIndex((other) => one.kind === other.kind && fits(one, other));
      const other = left[at];
      if (!other) continue;
      matched.set(one, other);
      left.splice(at, 1);
    }
  };
  match((one, other) => one.place === other.place);
  match(() => true);
  const kept = a.map((one): InsertChange => {
    const other = matched.get(one);
    const on = { A: one.on, B: other?.on ?? false };
    if (!other) return { kind: one.kind, how: 'removed', a: one.place, b: undefined, on };
    const how = one.place !== other.place ? 'moved' : sameInsert(one, other) ? 'same' : 'changed';
    return { kind: one.kind, how, a: one.place, b: other.place, on };
  });
  const added = left.map(({ kind, place, on }): InsertChange => ({
    kind,
    how: 'added',
    a: undefined,
    b: place,
    on: { A: false, B: on },
  }));
  return [...kept, ...added];
}

const sameInsert = (one: Insert, other: Insert): boolean =>
  one.on === other.on && Object.entries(one.settings).every(([name, value]) => other.settings[name] === value);

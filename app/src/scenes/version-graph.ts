import type { VersionView } from '@old-echo/core/contracts/production';

/** A stroke through one row: between the row's top, its dot and its foot, in one lane. */
interface Stroke {
  readonly lane: number;
  readonly from: 'top' | 'dot';
  readonly to: 'dot' | 'foot';
}

export interface RowGraph {
  readonly strokes: readonly Stroke[];
  /** Lanes of versions that begin here: each bends into the dot from above. */
  readonly joints: readonly number[];
}

export interface Lane {
  readonly lane: number;
  readonly newest: number;
  readonly oldest: number;
  /** The place of the scene of another lane that it bends into, or null. */
  readonly joint: number | null;
}

export const NO_LANES: readonly Lane[] = [];

/** One lane per version that has scenes, from the places of its scenes: no row needs to know the others. */
export const lanesOf = (versions: readonly VersionView[]): Lane[] =>
  versions.flatMap(({ places, fromPlace }, lane) => (places ? [{ lane, ...places, joint: fromPlace }] : []));

/** The places a row stands for: one scene, or a run of them folded together. */
interface Run {
  readonly lane: number;
  readonly high: number;
  readonly low: number;
}

/**
 * Graph strokes of one row, newest scene on top: each version runs from its newest scene to its oldest, then to its origin.
 */
export function graphInRow(lanes: readonly Lane[], { lane: own, high, low }: Run): RowGraph {
  const strokes: Stroke[] = [];
  const joints: number[] = [];
  for (const { lane, newest, oldest, joint } of lanes) {
    const end = joint === null ? oldest : Math.min(oldest, joint);
    if (lane === own) {
      if (high < newest) strokes.push({ lane, from: 'top', to: 'dot' });
      if (low > end) strokes.push({ lane, from: 'dot', to: 'foot' });
    } else if (joint !== null && joint >= low && joint <= high && oldest > high) joints.push(lane);
    else if (high < newest && low > end) strokes.push({ lane, from: 'top', to: 'foot' });
  }
  return { strokes, joints };
}

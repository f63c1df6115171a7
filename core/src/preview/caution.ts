/** How much a caution weighs: a *stop* must be answered before anything is sent. */
export type Weight = 'note' | 'care' | 'stop';

export type CautionKind =
  | 'louder'
  | 'master'
  | 'phantom'
  | 'gain'
  | 'source'
  | 'patch'
  | 'polarity'
  | 'automation'
  | 'click'
  | 'effect'
  | 'pair'
  | 'global';

/** Ways to be rid of a caution: leave its settings out, mute its strips on the way, or let levels move slowly. */
export type WayOut = 'leave out' | 'mute first' | 'fade';

/** One strip of a caution. */
export interface CautionItem {
  readonly strip: string;
  /** "opens", "+9.4 dB", "Stage 9 to Stage 12". */
  readonly what: string;
  /** By how many dB it gets louder, Infinity where it opens; undefined where it is no matter of level. */
  readonly rise?: number;
  /** What would have to be left out to be rid of it. */
  readonly causes: readonly string[];
}

/** Something a restore would do that can hurt ears, gear or work. */
export interface Caution {
  /** Of what it says: another amount or another strip makes another id, so an answer never covers more than was read. */
  readonly id: string;
  readonly kind: CautionKind;
  readonly weight: Weight;
  /** The output it is heard on, where it is heard on one. */
  readonly output?: string;
  /** A sentence: "Brass 1 gets 9.4 dB louder in Main L/R". */
  readonly title: string;
  /** What makes it so. */
  readonly detail: string;
  /** The worst first. */
  readonly items: readonly CautionItem[];
  readonly waysOut: readonly WayOut[];
}

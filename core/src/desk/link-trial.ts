/** A desk that answered to whom it may concern: its model, what it calls itself, and where it is. */
export interface FoundDesk {
  readonly profileId: string;
  readonly name: string;
  readonly host: string;
  readonly port: number;
}

/** A setting that the desk answered with what its profile does not allow. */
export interface UnfitSetting {
  readonly address: string;
  readonly why: string;
}

/** What came of trying to reach a desk. Nothing of it was moved. */
export interface LinkTrial {
  /** What answered there, by the id of its profile and its own name; null where nothing did. */
  readonly desk: { readonly profileId: string; readonly name: string } | null;
  /** Why it cannot be used, as a sentence; empty where it can. */
  readonly why: string;
  /** Of the packets that were answered, in ms; null where none was. */
  readonly roundTrip: { readonly median: number; readonly worst: number } | null;
  /** Small packets sent to see how many come back, and how many did not. */
  readonly packets: number;
  readonly lost: number;
  /** Settings of the profile, and how many the desk answered with a value that fits. */
  readonly settings: number;
  readonly answered: number;
  readonly unanswered: number;
  /** Settings that such a desk cannot be asked for; they are not among the {@link settings}. */
  readonly unasked: number;
  /** The first of those that it did not answer, by address, and of those whose value does not fit. */
  readonly missing: readonly string[];
  readonly unfit: readonly UnfitSetting[];
}

/** The most of each that a trial lists. */
export const MOST_LISTED = 20;

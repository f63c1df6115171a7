import { fingerprint } from '../desk/fingerprint';

/** How much a caution weighs: a *stop* must be answered before anything is sent. */
export type Severity = 'note' | 'care' | 'stop';

export type CautionKind =
  | 'louder'
  | 'whole'
  | 'behind'
  | 'lane'
  | 'ringing'
  | 'silent'
  | 'lost'
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
type Remedy = 'leave out' | 'mute first' | 'fade';

/** What happens on a strip of a caution. */
export type CautionFact =
  /** It gets louder by what the item says. */
  | { readonly is: 'rises'; readonly isBehind?: boolean }
  /** Its preamp gain rises by so many dB, whatever makes up for it. */
  | { readonly is: 'gained'; readonly by: number }
  /** Its causes are set to other values. */
  | { readonly is: 'changes' }
  | { readonly is: 'switched'; readonly to: boolean }
  | { readonly is: 'boosted'; readonly hertz: number }
  | { readonly is: 'repeats'; readonly percent: number }
  | { readonly is: 'silent' }
  /** It is no longer on the outputs of the item. */
  | { readonly is: 'leaves' }
  /** So many points of automation that move a processor. */
  | { readonly is: 'lane'; readonly points: number }
  /** Lanes by their keys, with how many points each, and notes that are emptied. */
  | {
      readonly is: 'emptied';
      readonly lanes: readonly (readonly [key: string, points: number])[];
      readonly notes: readonly string[];
    }
  /** It feeds an effect return whose processor was another one in the scene. */
  | { readonly is: 'fed'; readonly effect: string; readonly holds: string; readonly held: string };

/** Which of several forms a caution of one kind has, where it has several. */
export type CautionForm = 'audible' | 'muted' | 'inaudible' | 'bounded' | 'half' | 'stays';

/** One strip of a caution. */
export interface CautionItem {
  readonly strip: string;
  readonly fact: CautionFact;
  /** By how many dB it gets louder, Infinity where it opens; undefined where it is no matter of level. */
  readonly rise?: number;
  /** The outputs it is heard on, where it is heard on some. */
  readonly outputs?: readonly string[];
  /** What would have to be left out to be rid of it. */
  readonly causes: readonly string[];
}

/** One thing that someone who answers a caution has read of it. */
export interface Point {
  /** What it is about: a kind, a strip, and an output or what it is set to. */
  readonly about: string;
  /** How many times over the threshold it reaches; {@link OPENS} where it opens, 1 where it is no matter of level. */
  readonly reach: number;
}

/** The reach of what opens: more than any rise. */
const OPENS = 1000;

/** Something a restore would do that can hurt ears, gear or work. */
export interface Caution {
  /** Of what it says, apart from amounts under a further threshold: a hand that rides a fader makes no other caution of it. */
  readonly id: string;
  readonly kind: CautionKind;
  readonly weight: Severity;
  readonly form?: CautionForm;
  /** The worst first. */
  readonly items: readonly CautionItem[];
  readonly points: readonly Point[];
  /**
   * What stands for some of its points where each was read by itself: an output rises by no more than the paths do that make it rise.
   */
  readonly parts?: Readonly<Record<string, readonly string[]>>;
  readonly waysOut: readonly Remedy[];
}

/** A caution before it is known what answers it. */
export type Draft = Omit<Caution, 'id' | 'points'> & { readonly points?: readonly Point[] };

/** Rises without a threshold of their own are counted in steps of this many dB. */
const STEP = 6;

/**
 * A caution of a draft. Without points of its own it is about its strips: how far each rises, or what each is set to.
 * @param to what a setting is set to, by its address
 */
export function cautionOf(draft: Draft, to: (address: string) => unknown): Caution {
  const points = draft.points ?? draft.items.map((item) => pointOf(draft.kind, item, to));
  const id = `${draft.kind}/${fingerprint(points.map(({ about, reach }) => [about, reach])).slice(0, 16)}`;
  return { ...draft, points, id };
}

function pointOf(kind: CautionKind, { strip, rise, causes }: CautionItem, to: (address: string) => unknown): Point {
  if (rise !== undefined) return { about: `${kind}|${strip}`, reach: reachOf(rise, STEP) };
  const set = fingerprint(causes.map((address) => [address, to(address)])).slice(0, 8);
  return { about: `${kind}|${strip}|${set}`, reach: 1 };
}

/** How many times over a threshold a rise reaches, in dB. */
export const reachOf = (rise: number, threshold: number): number =>
  rise === Infinity ? OPENS : Math.min(OPENS - 1, Math.max(1, Math.floor(rise / Math.max(1, threshold))));

/** Whether all that a caution says was read before, as far as it goes now. */
export function isCovered({ points, parts = {} }: Pick<Caution, 'points' | 'parts'>, read: readonly Point[]): boolean {
  const known = new Map<string, number>();
  for (const { about, reach } of read) known.set(about, Math.max(reach, known.get(about) ?? 0));
  return points.every(
    ({ about, reach }) => (known.get(about) ?? 0) >= reach || (parts[about]?.every((part) => known.has(part)) ?? false),
  );
}

/** What was read in several places, each thing once and as far as it went. */
export function pointsTogether(...lists: readonly (readonly Point[])[]): Point[] {
  const all = new Map<string, number>();
  for (const { about, reach } of lists.flat()) all.set(about, Math.max(reach, all.get(about) ?? 0));
  return [...all].map(([about, reach]) => ({ about, reach }));
}

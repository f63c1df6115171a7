import { diceCoefficient } from 'dice-coefficient';
import { linearSumAssignment } from 'linear-sum-assignment';
import { Matrix } from 'ml-matrix';

import { familyOf } from '../desk/address';
import { linkedPartner } from '../desk/linked-pair';
import { defaultValue, type Profile, stripFamily } from '../desk/profile';
import { sameValue } from '../desk/setting';
import { displayName, type State } from '../desk/state';
import { isUnused, stripsInUse } from '../desk/strips-in-use';
import { type LabelledStrip, suggestPart } from './suggest-part';

/** How a strip found its own. */
type MatchReason = 'part' | 'name' | 'free' | 'hand';

export interface Match {
  readonly from: string;
  /** Null where nothing was left for it, or it is to stay behind. */
  readonly to: string | null;
  readonly why: MatchReason | 'none';
}

/** Below this likeness two names say nothing about one another. */
const MIN_SIMILARITY = 0.5;

/**
 * How much two strips are alike: 2 for the same part as people named it, 1.5 for the same by their names, else the Sørensen–Dice
 * coefficient of the letter pairs of what their names suggest, 0 … 1; 0 below one half.
 */
export function similarity(a: LabelledStrip, b: LabelledStrip): number {
  if (a.part !== null && b.part !== null) return a.part === b.part ? 2 : 0;
  const [one, other] = [a.part ?? suggestPart(a.name), b.part ?? suggestPart(b.name)];
  if (one === '' || other === '') return 0;
  if (one === other) return 1.5;
  const alike = diceCoefficient(one, other);
  return alike >= MIN_SIMILARITY ? alike : 0;
}

/**
 * Pairs rows with columns, each at most once, so that the sum of likeness is the largest there is; pairs of no likeness are
 * left out. Jonker–Volgenant, from a package.
 */
export function bestAssignment(likenesses: readonly (readonly number[])[]): (number | undefined)[] {
  const columns = likenesses[0]?.length ?? 0;
  if (columns === 0) return likenesses.map(() => undefined);
  const { rowAssignments } = linearSumAssignment(new Matrix(likenesses.map((row) => [...row])), { maximaze: true });
  return likenesses.map((row, i) => {
    const column = rowAssignments[i];
    return column !== undefined && column >= 0 && (row[column] ?? 0) > 0 ? column : undefined;
  });
}

/** A desk with what its strips are called. */
export interface LabelledDesk {
  readonly profile: Profile;
  readonly state: State;
  readonly parts: Readonly<Record<string, string>>;
}

/**
 * The strip of another desk for each strip that is in use and has one: what hands decided first, then by part and by likeness of name,
 * best overall. Only strips of the same family are ever matched.
 */
export function matchAlike(
  from: LabelledDesk,
  to: LabelledDesk,
  hands: Readonly<Record<string, string | null>> = {},
): Map<string, Match> {
  const used = stripsInUse(from.profile, from.state);
  const taken = new Set(Object.values(hands).filter((strip) => strip !== null));
  const found = new Map<string, Match>();
  for (const strip of used) {
    const hand = hands[strip];
    if (hand !== undefined) found.set(strip, { from: strip, to: hand, why: 'hand' });
  }
  const named = ({ profile, state, parts }: LabelledDesk, strip: string): LabelledStrip => {
    const label = stripFamily(profile, strip)?.settings['label/name'];
    // A name that every untouched desk has says nothing.
    const plain = label && sameValue(label, state[strip]?.['label/name'], defaultValue(profile, strip, label));
    return { strip, name: plain ? '' : displayName(profile, state, strip), part: parts[strip] ?? null };
  };
  for (const { id, strips } of to.profile.families) {
    const rows = used.filter((strip) => familyOf(strip) === id && !found.has(strip)).map((strip) => named(from, strip));
    const columns = strips.filter((strip) => !taken.has(strip)).map((strip) => named(to, strip));
    const likes = rows.map((row) =>
      columns.map((column) => (id === 'main' && row.strip === column.strip ? 1 : similarity(row, column))),
    );
    const pairs = bestAssignment(likes);
    rows.forEach((row, i) => {
      const column = columns[pairs[i] ?? -1];
      if (!column) return;
      taken.add(column.strip);
      found.set(row.strip, {
        from: row.strip,
        to: column.strip,
        why: (likes[i]?.[pairs[i] ?? -1] ?? 0) === 2 ? 'part' : 'name',
      });
    });
  }
  return found;
}

/** {@link matchAlike}, and free strips in order for those that are like none; the halves of linked pairs beside each other. */
export function matchStrips(
  from: LabelledDesk,
  to: LabelledDesk,
  hands: Readonly<Record<string, string | null>> = {},
): Match[] {
  const used = stripsInUse(from.profile, from.state);
  const found = matchAlike(from, to, hands);
  const taken = new Set([...found.values()].map((match) => match.to));
  for (const { id, strips } of to.profile.families) {
    const free = strips.filter((strip) => !taken.has(strip) && isUnused(to.profile, to.state, strip));
    for (const strip of used) {
      if (familyOf(strip) !== id || found.has(strip)) continue;
      const onto = free.shift();
      found.set(strip, { from: strip, to: onto ?? null, why: onto === undefined ? 'none' : 'free' });
    }
  }
  halvesTogether(from, to, used, found);
  return used.map((strip) => found.get(strip) ?? { from: strip, to: null, why: 'none' });
}

/**
 * Lets the halves of linked pairs land beside each other, on an odd strip and the even one after it: where one of them found its own,
 * if there is room, else on two free strips. What hands decided stays.
 */
function halvesTogether(
  from: LabelledDesk,
  to: LabelledDesk,
  used: readonly string[],
  found: Map<string, Match>,
): void {
  for (const strip of used) {
    const half =
      from.state[strip]?.['source/link'] === true ? linkedPartner(from.profile, from.state, strip) : undefined;
    const [one, other] = [found.get(strip), found.get(half ?? '')];
    if (!one || !other || one.why === 'hand' || other.why === 'hand') continue;
    const strips = to.profile.families.find(({ id }) => id === familyOf(strip))?.strips ?? [];
    const own = [one.to, other.to];
    const others = new Set([...found.values()].filter((match) => match !== one && match !== other).map((m) => m.to));
    const isOpen = (at: string | undefined): at is string =>
      at !== undefined && !others.has(at) && (own.includes(at) || isUnused(to.profile, to.state, at));
    const places = strips.flatMap((left, i) => {
      const right = strips[i + 1];
      return i % 2 === 0 && isOpen(left) && isOpen(right) ? [{ left, right }] : [];
    });
    const place =
      places.find(({ left }) => left === one.to) ?? places.find(({ right }) => right === other.to) ?? places[0];
    if (place === undefined) continue;
    const put = (match: Match, at: string) =>
      found.set(match.from, match.to === at ? match : { from: match.from, to: at, why: 'free' });
    put(one, place.left);
    put(other, place.right);
  }
}

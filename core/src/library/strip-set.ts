import { familyOf } from '../desk/address';
import { type Profile, stripFamily } from '../desk/profile';
import { isOff, sameValue, type Value } from '../desk/setting';
import { displayName, type State } from '../desk/state';
import { isUnused } from '../desk/strips-in-use';
import type { AppliedSettings, PresetSource } from './apply-preset';
import type { ConversionReason } from './conversion-reason';
import { type ConversionNote, convertStrip, filterSettings, toAddresses } from './convert-strip';
import { distinctLabels } from './strip-labels';

/** Where a strip of a strip set goes. */
export interface StripSetPlace {
  readonly from: string;
  /** Undefined where there is none for it. */
  readonly to: string | undefined;
  /** `input`: a strip of the strip set; `same`: an identical return or group exists; `free`: one that is unused is taken. */
  readonly how: 'input' | 'same' | 'free' | 'none';
}

/** A send that the strip set makes. */
interface MadeSend {
  readonly strip: string;
  readonly to: string;
  /** dB. */
  readonly level: number;
}

interface StripSetPlan extends AppliedSettings {
  readonly places: readonly StripSetPlace[];
  readonly sends: readonly MadeSend[];
}

/** The strips of a strip set that carry a signal in, in order. */
export const inputsOf = (content: State): string[] => Object.keys(content).filter((strip) => familyOf(strip) === 'in');

/** Whether a strip is the one that a strip of a strip set was made from: its own source, which a strip set leaves alone. */
const isOwnSource = (
  { profile, content }: Pick<PresetSource, 'profile' | 'content'>,
  to: Profile,
  now: State,
  strip: string,
) =>
  profile.id === to.id && content[strip] !== undefined && content[strip]['label/name'] === now[strip]?.['label/name'];

/**
 * Where the inputs of a strip set land: on the strips that were chosen, in their order, and then on free ones after the first of
 * them. A linked pair needs two that stand side by side. None lands on a strip it was made from, or on one that another has
 * taken.
 */
export function findUnusedInputs(
  source: Pick<PresetSource, 'profile' | 'content'>,
  to: Profile,
  now: State,
  chosen: readonly string[] = [],
): Map<string, string> {
  const { content } = source;
  const strips = to.families.find(({ id }) => id === 'in')?.strips ?? [];
  const inputs = inputsOf(content);
  const wanted = chosen.filter((strip) => strips.includes(strip) && !isOwnSource(source, to, now, strip));
  const found = new Map<string, string>();
  const taken = new Set<string>();
  const isOpen = (strip: string | undefined): strip is string =>
    strip !== undefined && !taken.has(strip) && (wanted.includes(strip) || isUnused(to, now, strip));
  const begin = Math.max(0, strips.indexOf(chosen[0] ?? ''));
  const inOrder = [...wanted, ...strips.slice(begin), ...strips.slice(0, begin)];
  const after = (strip: string) => strips[strips.indexOf(strip) + 1];
  for (const [i, input] of inputs.entries()) {
    if (found.has(input)) continue;
    const half = inputs[i + 1];
    const pair = content[input]?.['source/link'] === true && half !== undefined;
    const fits = (strip: string) => !pair || (strips.indexOf(strip) % 2 === 0 && isOpen(after(strip)));
    const strip = inOrder.find((one) => isOpen(one) && fits(one));
    if (strip === undefined) continue;
    found.set(input, strip);
    taken.add(strip);
    const other = pair ? after(strip) : undefined;
    if (half === undefined || other === undefined) continue;
    found.set(half, other);
    taken.add(other);
  }
  return found;
}

const NONE_FREE: Readonly<Record<string, ConversionReason>> = {
  fx: 'no effect return free',
  group: 'no group free',
};

/** What makes two effect returns, or two groups, the same: what they do to a sound. */
const RETURN_SECTIONS: ReadonlySet<string> = new Set(['eq', 'compressor', 'inserts']);

/**
 * A strip set on a desk. Its inputs land where `inputs` says; each effect return and group it feeds is found among those that are
 * there: one that does the same is shared, else a free one is taken, else its sends stay behind and that is told. What feeds
 * the inputs stays, unless `withPatch`.
 */
export function applyStripSet(
  { profile, content }: PresetSource,
  to: Profile,
  now: State,
  inputs: ReadonlyMap<string, string>,
  withPatch: boolean,
): StripSetPlan {
  const places: StripSetPlace[] = inputsOf(content).map((from) => {
    const strip = inputs.get(from);
    return { from, to: strip, how: strip === undefined ? 'none' : 'input' };
  });
  const others = new Map([...inputs]);
  const main = to.families.find(({ id }) => id === 'main')?.strips ?? [];
  for (const strip of main) others.set(strip, strip);
  const taken = new Set<string>();
  // Returns first: a group may feed one.
  for (const family of ['fx', 'group'])
    for (const from of Object.keys(content).filter((strip) => familyOf(strip) === family)) {
      const does = (strip: string) =>
        filterSettings(
          convertStrip({ from: profile, strip: from, settings: content[from] ?? {}, to, onto: strip, others }).settings,
          (section) => RETURN_SECTIONS.has(section),
        );
      const there = (to.families.find(({ id }) => id === family)?.strips ?? []).filter((strip) => !taken.has(strip));
      const same = there.find((strip) => hasSameSound(to, now, strip, does(strip), content[from]?.['label/name']));
      const free = same ?? there.find((strip) => isUnused(to, now, strip));
      if (free !== undefined) {
        taken.add(free);
        others.set(from, free);
      }
      places.push({ from, to: free, how: same ? 'same' : free ? 'free' : 'none' });
    }
  const settings: Record<string, Value> = {};
  const notes: ConversionNote[] = [];
  for (const { from, to: onto, how } of places) {
    if (onto === undefined) {
      const why = NONE_FREE[familyOf(from)] ?? 'no strip free';
      notes.push({ strip: from, key: 'label/name', from: displayName(profile, content, from), to: undefined, why });
      continue;
    }
    if (how === 'same') continue;
    const own = filterSettings(content[from] ?? {}, (section, key) =>
      section === 'source' ? withPatch || key === 'source/link' : key !== 'routing/output',
    );
    const landed = convertStrip({ from: profile, strip: from, settings: own, to, onto, others });
    Object.assign(settings, toAddresses(onto, landed.settings));
    notes.push(...landed.notes);
  }
  const sends = Object.entries(settings).flatMap(([address, level]): MadeSend[] => {
    const found = /^([^/]+)\/sends\/([^/]+)\/level$/.exec(address);
    const spec = found?.[1] && stripFamily(to, found[1])?.settings[`sends/${found[2]}/level`];
    return found?.[1] && found[2] && spec && !isOff(spec, level)
      ? [{ strip: found[1], to: found[2], level: Number(level) }]
      : [];
  });
  return { ...distinctLabels(to, settings, notes), places, sends };
}

/** Whether a strip of the desk does all of this already, under the same name. */
function hasSameSound(
  profile: Profile,
  now: State,
  strip: string,
  does: Readonly<Record<string, Value>>,
  name: Value | undefined,
): boolean {
  const family = stripFamily(profile, strip);
  return (
    now[strip]?.['label/name'] === name &&
    Object.entries(does).every(([key, value]) => {
      const spec = family?.settings[key];
      return spec && sameValue(spec, now[strip]?.[key], value);
    })
  );
}

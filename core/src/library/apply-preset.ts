import { type Profile, stripFamily } from '../desk/profile';
import { sameValue, type Value } from '../desk/setting';
import type { SettingsByAddress, State, StripState } from '../desk/state';
import { isPatch } from '../recall/recall-target';
import { insertChain } from '../signal/insert-chain';
import { insertSlots } from './convert-inserts';
import { type ConversionNote, convertStrip, filterSettings, toAddresses } from './convert-strip';
import { type PresetContent, type PresetKind, singleStrip } from './preset';

/** Where something comes from. */
export interface PresetSource {
  readonly kind: PresetKind;
  readonly profile: Profile;
  readonly content: PresetContent;
}

/** Settings as they would land on a desk, and what of them could not. */
export interface AppliedSettings {
  readonly settings: SettingsByAddress;
  readonly notes: readonly ConversionNote[];
}

interface PutOptions {
  /** The sections that come along. */
  readonly sections: ReadonlySet<string>;
  /** Whether what feeds the inputs, and where outputs go, comes along. */
  readonly withPatch: boolean;
}

/**
 * Default sections: the sound. Fader, sends, routing, source and name belong to the target. Common practice.
 */
export const SOUND_SECTIONS: readonly string[] = ['preamp', 'gate', 'eq', 'compressor', 'inserts'];

/** A preset of one strip, or one processor, on some strips of a desk. */
export function putOnStrips(
  { kind, profile, content }: PresetSource,
  to: Profile,
  now: State,
  strips: readonly string[],
  { sections, withPatch }: PutOptions,
): AppliedSettings {
  const strip = singleStrip(content);
  const taken = filterSettings(
    content[strip] ?? {},
    (section, key) => sections.has(section) && (withPatch || !isPatch(key)),
  );
  const same = new Map(profile.id === to.id ? to.strips.map((one) => [one, one]) : []);
  const settings: Record<string, Value> = {};
  const notes: ConversionNote[] = [];
  for (const onto of strips) {
    const carried = { from: profile, strip, settings: taken, to, onto, others: same };
    const insert = kind === 'processor' && taken['inserts/1/kind'] !== undefined;
    const landed = insert ? placeInsert(to, onto, now[onto] ?? {}, taken) : convertStrip(carried);
    Object.assign(settings, toAddresses(onto, landed.settings));
    notes.push(...landed.notes);
  }
  return { settings, notes };
}

/** One insert: in the place of the first of its kind that is loaded, else in the first that is empty. */
function placeInsert(to: Profile, onto: string, now: StripState, insert: StripState) {
  const kind = insert['inserts/1/kind'];
  const family = stripFamily(to, onto);
  const chain = insertChain(now);
  const slots = family ? insertSlots(family) : [];
  const slot =
    chain.find((one) => one.kind === kind)?.place ?? slots.find((n) => !chain.some((one) => one.place === n));
  const settings: Record<string, Value> = {};
  for (const [key, value] of Object.entries(insert)) {
    const landed = key.replace('inserts/1/', `inserts/${slot}/`);
    if (slot !== undefined && family?.settings[landed]) settings[landed] = value;
  }
  const why = slots.length === 0 ? 'no inserts' : 'no insert free';
  const notes: ConversionNote[] =
    kind !== undefined && settings[`inserts/${slot}/kind`] === undefined
      ? [{ strip: onto, key: 'inserts/1/kind', from: kind, to: undefined, why }]
      : [];
  return { settings, notes };
}

/**
 * A patch or a template on a desk of its own kind or another, strip by strip of the same name. What feeds the inputs comes
 * along only when asked for.
 */
export function putOnDesk(
  { profile, content }: PresetSource,
  to: Profile,
  { sections, withPatch }: PutOptions,
): AppliedSettings {
  const others = new Map(to.strips.flatMap((strip) => (profile.plainNames[strip] ? [[strip, strip] as const] : [])));
  const settings: Record<string, Value> = {};
  const notes: ConversionNote[] = [];
  for (const [strip, own] of Object.entries(content)) {
    const taken = filterSettings(
      own,
      (section, key) => sections.has(section) && (withPatch || key !== 'source/socket'),
    );
    if (stripFamily(to, strip)) {
      const landed = convertStrip({ from: profile, strip, settings: taken, to, onto: strip, others });
      Object.assign(settings, toAddresses(strip, landed.settings));
      notes.push(...landed.notes);
    } else if (Object.keys(taken).length > 0)
      notes.push({
        strip,
        key: 'label/name',
        from: own['label/name'] ?? strip,
        to: undefined,
        why: 'no strip',
      });
  }
  return { settings, notes };
}

/** Addresses of settings that have moved away from how they landed. */
export const changedSinceApplied = (profile: Profile, now: State, landed: SettingsByAddress): string[] =>
  Object.entries(landed).flatMap(([address, value]) => {
    const [strip = '', ...rest] = address.split('/');
    const key = rest.join('/');
    const spec = stripFamily(profile, strip)?.settings[key];
    return spec && !sameValue(spec, now[strip]?.[key], value) ? [address] : [];
  });

import { readAddress, sectionOf } from '../desk/address';
import { linkedPartner } from '../desk/linked-pair';
import type { Profile } from '../desk/profile';
import type { State, StripState } from '../desk/state';
import { hasOpenSend } from '../desk/strips-in-use';
import { isPatch } from '../recall/recall-target';
import { insertChain } from '../signal/insert-chain';
import { filterSettings, referencedStrip } from './convert-strip';

/**
 * `processor`: one EQ, gate, compressor or insert; `strip`: all sections of one strip; `strip set`: several strips with what they
 * feed; `bus`: the processing of a main, mix, group or matrix; `patch`: sources, links and outputs of a whole desk;
 * `template`: a whole desk without its sound.
 */
export const PRESET_KINDS = ['processor', 'strip', 'strip set', 'bus', 'patch', 'template'] as const;
export type PresetKind = (typeof PRESET_KINDS)[number];

/** What is saved: strips of the desk it was made on, with some of their settings. */
export type PresetContent = State;

/** Processors that can be saved by themselves: sections of a strip, or one insert. */
export const PROCESSORS: readonly string[] = ['gate', 'eq', 'compressor', 'inserts'];

const BUSES: ReadonlySet<string> = new Set(['mix', 'group', 'matrix', 'main']);
export const isBus = (strip: string): boolean => BUSES.has(strip.slice(0, strip.indexOf('.')));

/** What makes a desk ready without being its sound. */
const SETUP_SECTIONS: ReadonlySet<string> = new Set(['source', 'routing', 'label', 'view']);
/** What a bus does to what comes through it, wherever its fader stands. */
const BUS_SECTIONS: ReadonlySet<string> = new Set(['eq', 'compressor', 'inserts', 'pan']);

/** One processor of a strip: a section, or the insert at a place of its chain, which is saved as if it stood first. */
export function processorOf(settings: StripState, section: string, place?: number): StripState {
  if (place === undefined) return filterSettings(settings, (own) => own === section);
  const insert = insertChain(settings).find((one) => one.place === place);
  if (!insert) return {};
  return {
    'inserts/1/kind': insert.kind,
    'inserts/1/on': insert.on,
    ...Object.fromEntries(
      Object.entries(insert.settings).map(([name, value]) => [`inserts/1/${insert.kind}/${name}`, value]),
    ),
  };
}

/** What a preset of one strip or of the whole desk holds. */
export function presetContent(
  kind: Exclude<PresetKind, 'processor' | 'strip set'>,
  profile: Profile,
  state: State,
  strip?: string,
): PresetContent {
  if (kind === 'strip' || kind === 'bus') {
    const settings = strip === undefined ? undefined : state[strip];
    if (strip === undefined || !settings) return {};
    return { [strip]: kind === 'strip' ? settings : filterSettings(settings, (section) => BUS_SECTIONS.has(section)) };
  }
  const takes =
    kind === 'patch' ? (_: string, key: string) => isPatch(key) : (section: string) => SETUP_SECTIONS.has(section);
  const kept = profile.strips.map((name) => [name, filterSettings(state[name] ?? {}, takes)] as const);
  return Object.fromEntries(kept.filter(([, settings]) => Object.keys(settings).length > 0));
}

/**
 * Several strips with their linked halves, the groups they go to, and the effect returns that they or those groups feed.
 * Sends to monitor mixes belong to the stage, not to the sound, and are left out; so is membership of a DCA or mute group.
 */
export function stripSetContent(profile: Profile, state: State, strips: readonly string[]): PresetContent {
  const members = new Set(
    strips.flatMap((strip) => [strip, linkedPartner(profile, state, strip)]).filter((strip) => strip !== undefined),
  );
  const of = (family: string) => profile.families.find(({ id }) => id === family)?.strips ?? [];
  const groups = of('group').filter((group) => [...members].some((m) => state[m]?.[`routing/${group}`] === true));
  const returns = of('fx').filter((fx) => [...members, ...groups].some((m) => hasOpenSend(profile, state, m, fx)));
  const inside = new Set([...members, ...groups, ...returns, ...of('main')]);
  return Object.fromEntries(
    profile.strips
      .filter((strip) => members.has(strip) || groups.includes(strip) || returns.includes(strip))
      .map((strip) => [
        strip,
        filterSettings(state[strip] ?? {}, (_, key) => {
          const to = referencedStrip(profile, key);
          return to === undefined || inside.has(to);
        }),
      ]),
  );
}

/** The one strip that a preset of one strip was made from. */
export const singleStrip = (content: PresetContent): string => Object.keys(content)[0] ?? '';

/** The sections that a preset has something of, in the order of its own desk. */
export function presetSections(profile: Profile, content: PresetContent): string[] {
  const held = new Set(Object.values(content).flatMap((settings) => Object.keys(settings).map(sectionOf)));
  return [...new Set(profile.families.flatMap(({ sections }) => sections))].filter((section) => held.has(section));
}

/** Strips that settings by address are on. */
export const stripsInSettings = (settings: Readonly<Record<string, unknown>>): string[] => [
  ...new Set(Object.keys(settings).flatMap((address) => readAddress(address)?.strip ?? [])),
];

import { linkedPartner } from '../desk/linked-pair';
import { type Profile, stripFamily } from '../desk/profile';
import type { Value } from '../desk/setting';
import { type State, withSettings } from '../desk/state';
import { type ConversionNote, convertStrip, filterSettings, toAddresses } from './convert-strip';
import type { Match } from './match-strips';
import { distinctLabels } from './strip-labels';

export interface ConvertedScene {
  readonly state: State;
  readonly notes: readonly ConversionNote[];
  /** Settings that came along. */
  readonly settings: number;
}

export interface CarryOptions {
  readonly withPatch: boolean;
  readonly without: readonly string[];
}

const isPatch = (section: string, key: string): boolean => section === 'source' || key === 'routing/output';

/**
 * A scene of one desk as a scene of another: each matched strip converted onto its own, and nothing else in it. What feeds the
 * inputs is the other venue's, and is left out, unless `withPatch`; so are the sections of `without`.
 */
export function convertScene(
  from: Profile,
  scene: State,
  to: Profile,
  matches: readonly Match[],
  { withPatch = false, without = [] }: Partial<CarryOptions> = {},
): ConvertedScene {
  const others = new Map(
    matches.flatMap(({ from: strip, to: onto }) => (onto === null ? [] : [[strip, onto] as const])),
  );
  const settings: Record<string, Value> = {};
  const notes: ConversionNote[] = [];
  for (const [strip, onto] of others) {
    const own = filterSettings(
      scene[strip] ?? {},
      (section, key) => !without.includes(section) && (withPatch || key === 'source/link' || !isPatch(section, key)),
    );
    const landed = convertStrip({ from, strip, settings: own, to, onto, others });
    Object.assign(settings, toAddresses(onto, landed.settings));
    notes.push(...landed.notes);
  }
  for (const [strip, onto] of others) {
    if (settings[`${onto}/source/link`] !== true || isBeside(from, scene, to, strip, others)) continue;
    settings[`${onto}/source/link`] = false;
    notes.push({ strip: onto, key: 'source/link', from: true, to: false, why: 'partner elsewhere' });
  }
  const landed = distinctLabels(to, settings, notes);
  return {
    state: withSettings({}, landed.settings),
    notes: landed.notes,
    settings: Object.keys(settings).length,
  };
}

/** Whether the other half of a linked strip lands right after it: a strip is never linked to one that has nothing to do with it. */
function isBeside(
  from: Profile,
  scene: State,
  to: Profile,
  strip: string,
  others: ReadonlyMap<string, string>,
): boolean {
  const strips = stripFamily(to, others.get(strip) ?? '')?.strips ?? [];
  const half = others.get(linkedPartner(from, scene, strip) ?? '');
  return half !== undefined && strips[strips.indexOf(others.get(strip) ?? '') + 1] === half;
}

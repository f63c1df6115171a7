import { familyOf, sectionOf } from '../desk/address';
import { controlStrips, type Profile } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import type { State } from '../desk/state';
import type { CautionItem, Draft } from './caution';
import { isHeard, type Rises } from './path-rises';
import type { PlannedChange } from './planned-changes';

interface SilentInput {
  readonly profile: Profile;
  readonly after: State;
  readonly changes: readonly PlannedChange[];
  readonly mode: 'studio' | 'live';
}

/** Outputs that go silent, sources that are heard nowhere any more, and mixes that lose a source which is still heard elsewhere. */
export function silent({ profile, after, changes, mode }: SilentInput, { was, is }: Rises): Draft[] {
  const outputs = Object.keys(is);
  const sources = Object.keys(outputs[0] === undefined ? {} : (is[outputs[0]] ?? {}));
  const heardOn = (factors: Rises['is'], output: string) =>
    sources.filter((source) => isHeard(factors, output, source));
  const before = new Map(outputs.map((output) => [output, heardOn(was, output)]));
  const now = new Map(outputs.map((output) => [output, new Set(heardOn(is, output))]));
  const closed = outputs.filter((output) => before.get(output)?.length && now.get(output)?.size === 0);
  const isLeft = (source: string) => outputs.some((output) => now.get(output)?.has(source));
  const lost = new Map<string, string[]>();
  for (const output of outputs)
    for (const source of before.get(output) ?? [])
      if (!closed.includes(output) && !now.get(output)?.has(source))
        lost.set(source, [...(lost.get(source) ?? []), output]);
  const downs = changes.filter((change) => goesDown(change));
  const controls = controlsOf(profile);
  const on = (strip: string) => {
    const through = new Set([strip, ...controls.filter((control) => after[strip]?.[`routing/${control}`] === true)]);
    return downs.filter((change) => through.has(change.strip)).map(({ address }) => address);
  };
  const items: CautionItem[] = [
    ...closed.map((output) => ({ strip: output, fact: { is: 'silent' as const }, causes: on(output) })),
    ...[...lost].map(([source, from]) => ({
      strip: source,
      fact: { is: isLeft(source) ? ('leaves' as const) : ('silent' as const) },
      outputs: from,
      causes: on(source),
    })),
  ];
  if (items.length === 0) return [];
  return [
    {
      kind: 'silent',
      weight: mode === 'live' ? 'care' : 'note',
      items,
      waysOut: ['leave out'],
    },
  ];
}

/** The strips that decide whether others are heard: groups, DCAs and mute groups. */
const controlsOf = (profile: Profile): string[] => [
  ...(profile.families.find(({ id }) => id === 'group')?.strips ?? []),
  ...controlStrips(profile),
];

/** Whether a change by itself closes a way or makes it quieter. */
function goesDown({ strip, key, from, to }: PlannedChange): boolean {
  if (familyOf(strip) === GLOBAL_FAMILY) return false;
  if (typeof from === 'number' && typeof to === 'number') return to < from && /level$|preamp\//.test(key);
  if (key === 'mute/on' || key === 'preamp/pad') return to === true;
  if (key === 'source/socket') return to === 'none';
  return key.endsWith('/tap') || (['routing', 'sends'].includes(sectionOf(key)) && to === false);
}

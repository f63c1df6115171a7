import { familyOf, sectionOf } from '../desk/address';
import { controlStrips, GLOBAL_FAMILY, type Profile } from '../desk/profile';
import { stripName, type State } from '../desk/state';
import { joined, plural } from '../desk/wording';
import type { CautionItem, Draft } from './caution';
import type { PlannedChange } from './preview';
import { isHeard, type Rises } from './rises';

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
  const name = (strip: string) => stripName(profile, after, strip);
  const downs = changes.filter((change) => goesDown(change));
  const controls = controlsOf(profile);
  const on = (strip: string) => {
    const through = new Set([strip, ...controls.filter((control) => after[strip]?.[`routing/${control}`] === true)]);
    return downs.filter((change) => through.has(change.strip)).map(({ address }) => address);
  };
  const items: CautionItem[] = [
    ...closed.map((output) => ({ strip: output, what: 'goes silent', causes: on(output) })),
    ...[...lost].map(([source, from]) => ({
      strip: source,
      what: isLeft(source) ? `no longer in ${joined(from.slice(0, 3).map(name))}` : 'goes silent',
      outputs: from,
      causes: on(source),
    })),
  ];
  if (items.length === 0) return [];
  const [first] = items as [CautionItem];
  return [
    {
      kind: 'silent',
      weight: mode === 'live' ? 'care' : 'note',
      title:
        items.length === 1
          ? `${name(first.strip)} ${first.what === 'goes silent' ? first.what : `is ${first.what}`}`
          : items.length === 2 && items.every(({ what }) => what === 'goes silent')
            ? `${joined(items.map(({ strip }) => name(strip)))} go silent`
            : closed.length > 0
              ? `${joined(closed.slice(0, 2).map(name))} and ${plural(items.length - Math.min(2, closed.length), 'other')} go silent`
              : `${plural(items.length, 'strip')} ${items.some(({ what }) => what !== 'goes silent') ? 'go silent or leave a mix' : 'go silent'}`,
      detail:
        items.length === 1
          ? ''
          : items
              .slice(0, 4)
              .map(({ strip, what }) => `${name(strip)} ${what}`)
              .join(', '),
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

import { familyOf } from '@old-echo/core/desk/address';
import type { Profile } from '@old-echo/core/desk/profile';
import type { PlannedChange, Preview } from '@old-echo/core/recall/planned-changes';

/** A row of a preview's list: a heading, or a strip with what changes on it. */
export type Row =
  | { readonly kind: 'band'; readonly key: string; readonly title: string }
  | { readonly kind: 'strip'; readonly key: string; readonly changes: readonly PlannedChange[] };

/** What a strip can be heard on, the riskiest first; strips of which nobody hears more stand under their family. */
const RISKS = [
  ['main', 'Louder in a main or matrix'],
  ['mix', 'Louder in a mix'],
  ['care', 'Other cautions'],
] as const;

function risksOf({ cautions }: Preview): ReadonlyMap<string, (typeof RISKS)[number][0]> {
  const risks = new Map<string, (typeof RISKS)[number][0]>();
  const rank = (risk: string | undefined) => RISKS.findIndex(([name]) => name === risk) >>> 0;
  for (const { kind, items, weight } of cautions) {
    if (weight === 'note' || kind === 'silent') continue;
    for (const { strip, outputs = [] } of items) {
      const isLouder = ['louder', 'whole', 'lane'].includes(kind);
      const onlyMixes = outputs.length > 0 && outputs.every((output) => familyOf(output) === 'mix');
      const risk = !isLouder ? 'care' : onlyMixes ? 'mix' : 'main';
      if (rank(risk) < rank(risks.get(strip))) risks.set(strip, risk);
    }
  }
  return risks;
}

/** Strips by what they risk, then in desk order under the name of their family. */
export function rowsOf(profile: Profile, preview: Preview): Row[] {
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of preview.changes) byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  const risks = risksOf(preview);
  const group = (key: string, title: string, strips: readonly string[]): Row[] =>
    strips.length === 0
      ? []
      : [
          { kind: 'band', key, title: title },
          ...strips.map((strip): Row => ({ kind: 'strip', key: strip, changes: byStrip.get(strip) ?? [] })),
        ];
  const strips = profile.strips.filter((strip) => byStrip.has(strip));
  return [
    ...RISKS.flatMap(([risk, title]) =>
      group(
        risk,
        title,
        strips.filter((strip) => risks.get(strip) === risk),
      ),
    ),
    ...profile.families.flatMap((family) =>
      group(
        family.id,
        family.name,
        family.strips.filter((strip) => byStrip.has(strip) && !risks.has(strip)),
      ),
    ),
  ];
}

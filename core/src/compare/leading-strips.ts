import type { Comparison } from './compare';

/** A share of all that one would hear from which a strip is most of it. */
const DOMINANT_SHARE = 0.5;

/** What a difference is mostly about: one strip that is most of it, or the three that one would hear most; none where nothing is audible. */
export function leadingStrips({ cells }: Comparison): { readonly strips: readonly string[]; readonly isMost: boolean } {
  const byStrip = new Map<string, number>();
  for (const { strip, heard, audible } of cells) if (audible) byStrip.set(strip, (byStrip.get(strip) ?? 0) + heard);
  const ranked = [...byStrip].sort((a, b) => b[1] - a[1]);
  const total = ranked.reduce((sum, [, heard]) => sum + heard, 0);
  const isMost = ranked[0] !== undefined && ranked[0][1] >= total * DOMINANT_SHARE;
  return { strips: ranked.slice(0, isMost ? 1 : 3).map(([strip]) => strip), isMost };
}

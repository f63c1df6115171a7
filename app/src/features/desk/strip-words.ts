import type { StripState } from '@old-echo/core/desk/state';
import { sectionName } from '@old-echo/core/desk/wording';
import type { SafeRow } from './safe-strips';

/** "EQ 2 · Sends 1": how many settings of each section, the fader's own aside where it is drawn. */
export function sectionCounts(changes: readonly { readonly section: string; readonly key: string }[], drawn = 'fader/level'): string {
  const counts = new Map<string, number>();
  for (const { section, key } of changes) if (key !== drawn) counts.set(section, (counts.get(section) ?? 0) + 1);
  return [...counts].map(([section, n]) => `${sectionName(section)} ${n}`).join(' · ');
}

/** What is worth saying about a strip that has not drifted. */
export function stripState(strip: StripState | undefined, safe: SafeRow): string {
  const words = [safe === 'all' ? 'safe' : safe === 'some' ? 'partly safe' : '', strip?.['source/link'] === true ? 'linked' : ''];
  return words.filter(Boolean).join(' · ');
}

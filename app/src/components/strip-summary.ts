import type { Value } from '@old-echo/core/desk/setting';
import type { StripState } from '@old-echo/core/desk/state';
import { shortSectionName } from '@old-echo/core/phrases/format-value';

import type { SafeExtent } from './strip-safety';

interface Moved {
  readonly section: string;
  readonly key: string;
  readonly now: Value;
}

/** "unmutes · EQ 2 · Sends 1": what happens to the mute, then how many settings of each section; the fader is drawn. */
export function countBySection(changes: readonly Moved[]): string {
  const counts = new Map<string, number>();
  for (const { section, key } of changes)
    if (key !== 'fader/level' && section !== 'mute') counts.set(section, (counts.get(section) ?? 0) + 1);
  const mute = changes.find((change) => change.section === 'mute');
  const words = [...counts].map(([section, n]) => `${shortSectionName(section)} ${n}`);
  return [...(mute ? [mute.now === true ? 'mutes' : 'unmutes'] : []), ...words].join(' · ');
}

/** What is worth saying about a strip that has not drifted. */
export function stripBadges(strip: StripState | undefined, safe: SafeExtent): string {
  const words = [
    safe === 'all' ? 'safe' : safe === 'some' ? 'some safe' : '',
    strip?.['source/link'] === true ? 'stereo link' : '',
  ];
  return words.filter(Boolean).join(' · ');
}

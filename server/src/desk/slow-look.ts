import { stripFamily } from '@old-echo/core/desk/profile';
import { stripAddresses } from '@old-echo/core/desk/state';
import type { DeskLink } from '@old-echo/desk-link/link';

/** A whole desk is looked at once a minute, where its line lets that through. */
const ROUND_MS = 60_000;
/** What one setting takes on the line, asked for and answered, in bytes. */
const SETTING_BYTES = 80;
/** How much of a desk's pace may be taken for it. */
const SHARE_OF_PACE = 0.01;

/** How long to wait between two strips, in ms. */
function intervalOf({ profile }: DeskLink): number {
  const { strips, pace } = profile;
  const settings = Math.max(...strips.map((strip) => stripFamily(profile, strip)?.keys.length ?? 0));
  const atPace = pace === undefined ? 0 : ((settings * SETTING_BYTES) / (pace * SHARE_OF_PACE)) * 1000;
  return Math.max(ROUND_MS / strips.length, atPace);
}

/**
 * Reads one strip of a desk after the other, for ever: whoever listens to the link is told of what it has missed, so that no wrong
 * value stays for long.
 * @returns ends it
 */
export function lookForEver(wire: DeskLink, interval = intervalOf(wire)): () => void {
  const { profile } = wire;
  let [next, isLooking] = [0, false];
  const timer = setInterval(() => {
    const strip = profile.strips[next % profile.strips.length];
    if (!wire.linked || isLooking || strip === undefined) return;
    isLooking = true;
    next++;
    void wire
      .read(stripAddresses(profile, strip))
      // A desk that does not answer is noticed by its link.
      .catch(() => undefined)
      .finally(() => (isLooking = false));
  }, interval);
  return () => clearInterval(timer);
}

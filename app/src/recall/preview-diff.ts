import { plural } from '@old-echo/core/phrases/format-value';
import type { Preview } from '@old-echo/core/recall/planned-changes';

/**
 * How what a preview brings back differs from the one that was first looked at, in a sentence; undefined where it does not. That a
 * hand rides what comes back all the same is worked in, and not told.
 */
export function previewDiff(first: Preview, now: Preview): string | undefined {
  const before = new Map(first.changes.map((change) => [change.address, change]));
  let [added, other] = [0, 0];
  for (const { address, to } of now.changes) {
    const change = before.get(address);
    if (!change) added++;
    else if (change.to !== to) other++;
    before.delete(address);
  }
  const told = [
    added > 0 ? `${plural(added, 'change')} added` : '',
    before.size > 0 ? `${plural(before.size, 'change')} no longer needed` : '',
    other > 0 ? `${plural(other, 'change')} now going to another value` : '',
  ].filter(Boolean);
  return told.length > 0 ? `${told.join(', ')}.` : undefined;
}

import { plural } from '@old-echo/core/desk/wording';
import type { Preview } from '@old-echo/core/preview/preview';

/** How a preview differs from the one that was first looked at, in a sentence; undefined where it does not. */
export function movedSince(first: Preview, now: Preview): string | undefined {
  if (first.fingerprint === now.fingerprint) return undefined;
  const before = new Map(first.changes.map((change) => [change.address, change]));
  let [added, other] = [0, 0];
  for (const { address, from, to } of now.changes) {
    const change = before.get(address);
    if (!change) added++;
    else if (change.from !== from || change.to !== to) other++;
    before.delete(address);
  }
  const told = [
    added > 0 ? `${plural(added, 'change')} came up` : '',
    before.size > 0 ? `${plural(before.size, 'change')} fell away` : '',
    other > 0 ? `${plural(other, 'change')} now ${other === 1 ? 'starts' : 'start'} from another value` : '',
  ].filter(Boolean);
  const risks = now.cautions.length - first.cautions.length;
  if (told.length === 0) told.push(risks === 0 ? 'what it would do is not the same' : 'its cautions are not the same');
  return `${told.join(', ')}.`;
}

import { displayName, type State } from '../desk/state';
import type { Profile } from '../desk/profile';
import { plural, settingName } from '../desk/format-value';
import type { CautionItem, Draft } from './caution';
import type { PlannedChange } from './planned-changes';

/** Work that a restore would take away: lanes that are emptied, and notes. */
export function lost(profile: Profile, before: State, changes: readonly PlannedChange[]): Draft[] {
  const byStrip = new Map<string, CautionItem>();
  let [points, notes] = [0, 0];
  for (const { strip, key, address, from, to } of changes) {
    const lane = Array.isArray(from) && from.length > 0 && Array.isArray(to) && to.length === 0 ? from.length : 0;
    const note = key === 'label/note' && from !== '' && to === '';
    if (lane === 0 && !note) continue;
    points += lane;
    notes += note ? 1 : 0;
    const what = note
      ? `the note “${String(from)}”`
      : `${plural(lane, 'point')} of ${settingName(profile, key, before)}`;
    const known = byStrip.get(strip);
    byStrip.set(strip, {
      strip,
      what: known ? `${known.what}, ${what}` : what,
      causes: [...(known?.causes ?? []), address],
    });
  }
  const items = [...byStrip.values()];
  const [first] = items;
  if (!first) return [];
  const what = [points > 0 ? plural(points, 'point') + ' of automation' : '', notes > 0 ? plural(notes, 'note') : ''];
  const who = items.length === 1 ? displayName(profile, before, first.strip) : plural(items.length, 'strip');
  return [
    {
      kind: 'lost',
      weight: 'stop',
      title: `${what.filter(Boolean).join(' and ')} on ${who} would be lost`,
      detail: items
        .slice(0, 3)
        .map(({ strip, what }) => `${displayName(profile, before, strip)}: ${what}`)
        .join('; '),
      items,
      waysOut: ['leave out'],
    },
  ];
}

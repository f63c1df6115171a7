import type { CautionItem, Draft } from './caution';
import type { PlannedChange } from './planned-changes';

/** Work that a restore would take away: lanes that are emptied, and notes. */
export function lost(changes: readonly PlannedChange[]): Draft[] {
  const byStrip = new Map<string, PlannedChange[]>();
  for (const change of changes)
    if (emptiedPoints(change) > 0 || isEmptiedNote(change))
      byStrip.set(change.strip, [...(byStrip.get(change.strip) ?? []), change]);
  const items = [...byStrip].map(([strip, own]): CautionItem => ({
    strip,
    fact: {
      is: 'emptied',
      lanes: own.filter((change) => !isEmptiedNote(change)).map((change) => [change.key, emptiedPoints(change)]),
      notes: own.filter(isEmptiedNote).map(({ from }) => String(from)),
    },
    causes: own.map(({ address }) => address),
  }));
  return items.length > 0 ? [{ kind: 'lost', weight: 'stop', items, waysOut: ['leave out'] }] : [];
}

const emptiedPoints = ({ from, to }: PlannedChange): number =>
  Array.isArray(from) && Array.isArray(to) && to.length === 0 ? from.length : 0;

const isEmptiedNote = ({ key, from, to }: PlannedChange): boolean => key === 'label/note' && from !== '' && to === '';

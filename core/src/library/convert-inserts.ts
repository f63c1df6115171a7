import type { Family } from '../desk/profile';
import type { StripState } from '../desk/state';
import { insertChain } from '../signal/insert-chain';
import type { Assign } from './convert-eq-bands';

const SLOT = /^(inserts|automation\/inserts)\/\d+(\/|$)/;

export const isChainKey = (key: string): boolean => SLOT.test(key);

/** The slots for inserts that strips of a family have: 1 is the first. */
export const insertSlots = (family: Family): number[] =>
  family.keys.flatMap((key) => {
    const slot = /^inserts\/(\d+)\/kind$/.exec(key)?.[1];
    return slot === undefined ? [] : [Number(slot)];
  });

/**
 * Puts a chain of inserts into a strip that has other slots: in order, each into its own slot where that is there and
 * still free, else into the next that is. Automation of a processor goes with it. Slots that stay free are emptied.
 */
export function convertChain(to: Family, settings: StripState, take: Assign): void {
  const free = insertSlots(to);
  for (const { place, kind } of insertChain(settings)) {
    const slot = free.includes(place) ? place : free.shift();
    if (slot === place) free.splice(free.indexOf(slot), 1);
    for (const [key, value] of Object.entries(settings)) {
      const own = key === `automation/inserts/${place}`;
      const name = key.startsWith(`inserts/${place}/`) ? key.slice(`inserts/${place}/`.length) : undefined;
      if (!own && name !== 'kind' && name !== 'on' && !name?.startsWith(`${kind}/`)) continue;
      // Without its processor nothing of it is worth a word of its own.
      if (slot === undefined && name !== 'kind') continue;
      const landed = slot === undefined ? undefined : own ? `automation/inserts/${slot}` : `inserts/${slot}/${name}`;
      take(key, landed, value, 'no insert free');
    }
  }
  for (const slot of free)
    if (settings['inserts/1/kind'] !== undefined)
      take('inserts/1/kind', `inserts/${slot}/kind`, 'empty', 'not on desk');
}

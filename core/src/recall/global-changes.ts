import { familyOf } from '../desk/address';
import { specOf } from '../desk/profile';
import { GLOBAL_FAMILY } from '../desk/profile-source';
import { isOff } from '../desk/setting';
import { AUDIBLE_PATH_GAIN_DB } from '../signal/thresholds';
import type { Draft, Severity } from './caution';
import type { CautionInput } from './caution-input';
import { DB_TOLERANCE } from './louder-paths';
import type { PlannedChange } from './planned-changes';

/**
 * Settings of the whole desk: what gets louder in the room or on someone's ears, what a talkback reaches, and a clock that
 * everything follows.
 */
export function globals(input: CautionInput, heavy: Severity): Draft[] {
  const { profile, after, changes, thresholds } = input;
  const own = changes.filter(({ strip }) => familyOf(strip) === GLOBAL_FAMILY);
  const isOpen = ({ strip, section }: PlannedChange): boolean =>
    Number(after[strip]?.[`${section}/level`] ?? 0) > AUDIBLE_PATH_GAIN_DB;
  const talks = ({ strip }: PlannedChange): boolean => after[strip]?.['talkback/on'] === true;
  const louderBy = ({ address, from, to }: PlannedChange): number => {
    const spec = specOf(profile, address);
    if (!spec || Number(to) <= AUDIBLE_PATH_GAIN_DB) return 0;
    return isOff(spec, from) ? Infinity : Number(to) - Number(from);
  };
  const matters = (change: PlannedChange): boolean => {
    switch (change.key) {
      case 'monitor/level':
      case 'headphones/level':
        return louderBy(change) > thresholds.monitor + DB_TOLERANCE;
      case 'talkback/level':
        return talks(change) && louderBy(change) > thresholds.monitor + DB_TOLERANCE;
      case 'monitor/dim':
        return change.to === false && isOpen(change);
      case 'monitor/source':
        return isOpen(change);
      case 'talkback/on':
        return change.to === true && isOpen(change);
      case 'talkback/to':
        return true;
      default:
        return change.section === 'clock';
    }
  };
  const bySection = new Map<string, PlannedChange[]>();
  for (const change of own)
    if (matters(change)) bySection.set(change.section, [...(bySection.get(change.section) ?? []), change]);
  return [...bySection.values()].map((list): Draft => {
    const rises = list.find(({ key }) => key.endsWith('/level'));
    const rise = rises && louderBy(rises);
    return {
      kind: 'global',
      weight: heavy,
      items: [
        {
          strip: list[0]?.strip ?? GLOBAL_FAMILY,
          fact: { is: 'changes' },
          ...(rise === undefined ? {} : { rise }),
          causes: list.map(({ address }) => address),
        },
      ],
      waysOut: rises ? ['leave out', 'fade'] : ['leave out'],
    };
  });
}

import { type Profile, specOf } from '../desk/profile';
import type { State } from '../desk/state';
import type { PlannedChange } from '../recall/planned-changes';
import { formatValue, fullSettingName } from './format-value';

/** "gain +20.0 dB to +28.0 dB", for the first of some changes. */
export const describeChanges = (profile: Profile, after: State, list: readonly PlannedChange[]): string =>
  list
    .slice(0, 2)
    .map(({ address, from, to }) => {
      const spec = specOf(profile, address);
      return spec
        ? `${fullSettingName(profile, address, after)} ${formatValue(spec, from)} to ${formatValue(spec, to)}`
        : '';
    })
    .join(', ') + (list.length > 2 ? ` and ${list.length - 2} more` : '');

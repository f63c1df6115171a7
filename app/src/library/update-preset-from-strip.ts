import type { PresetDetail, PresetOrigin } from '@old-echo/core/contracts/preset';
import type { Profile } from '@old-echo/core/desk/profile';
import { type State, valueAt } from '@old-echo/core/desk/state';
import { settingsOfStrip } from '@old-echo/core/library/convert-strip';
import { type PresetContent, processorOf } from '@old-echo/core/library/preset';

/**
 * What a preset holds, with what stands now on a strip that came from it; undefined where that strip is on another kind of
 * desk than the preset was made on.
 */
export function updatedContent(
  preset: PresetDetail,
  on: Profile,
  now: State,
  { strip: landedOn, appliedSettings: landed }: PresetOrigin,
): PresetContent | undefined {
  const [strip, held] = Object.entries(preset.content)[0] ?? [];
  if (strip === undefined || held === undefined || preset.profileId !== on.id) return undefined;
  const stands = settingsOfStrip(
    Object.fromEntries(
      Object.keys(landed).flatMap((address) => {
        const value = valueAt(now, address);
        return value === undefined ? [] : [[address, value]];
      }),
    ),
    landedOn,
  );
  const place = Object.keys(stands).flatMap((key) => /^inserts\/(\d+)\/kind$/.exec(key)?.[1] ?? [])[0];
  const one = preset.kind === 'processor' && place !== undefined;
  return { [strip]: { ...held, ...(one ? processorOf(stands, 'inserts', Number(place)) : stands) } };
}

import type { PresetView } from '@old-echo/core/contracts/preset';
import type { PresetSource } from '@old-echo/core/library/apply-preset';

import { useLazyProfileQuery } from '../../store/desk-api';
import { useLazyPresetQuery, usePresetsQuery } from '../../store/library-api';

/** A preset that fresh ones start from. */
interface DefaultPreset {
  readonly name: string;
  readonly whole: () => Promise<PresetSource | undefined>;
}

/** What fresh strips and newly loaded processors start from, where people said so. */
export function useDefaultPresets(): {
  /** By what it is: "Input", "drive". */
  readonly strip: (gist: string) => DefaultPreset | undefined;
  readonly processor: (gist: string) => DefaultPreset | undefined;
} {
  const { data: all = [] } = usePresetsQuery();
  const [ask] = useLazyPresetQuery();
  const [askProfile] = useLazyProfileQuery();
  const starting = (test: (preset: PresetView) => boolean): DefaultPreset | undefined => {
    const found = all.find((preset) => preset.starts && preset.binnedAt === null && test(preset));
    return (
      found && {
        name: found.name,
        whole: async () => {
          const [preset, profile] = [await ask(found.id, true), await askProfile(found.profileId, true)];
          return preset.data && profile.data
            ? { kind: found.kind, profile: profile.data, content: preset.data.content }
            : undefined;
        },
      }
    );
  };
  return {
    strip: (gist) => starting((preset) => preset.kind === 'strip' && preset.gist === gist),
    processor: (gist) => starting((preset) => preset.kind === 'processor' && preset.gist === gist),
  };
}

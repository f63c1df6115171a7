import type { PresetView } from '@old-echo/core/contracts/preset';

import { BinnedRow } from '../components/bin-row';
import { whenInText } from '../components/format-time';
import { useRemoveMutation, useUnbinMutation } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';
import { Sheet } from '../ui/sheet';
import { presetTypeLabel } from './preset-label';

interface LibraryBinProps {
  readonly presets: readonly PresetView[];
  readonly open: boolean;
  readonly onClose: () => void;
}

/** What was put into the bin of the library, or replaced by another of the same name. */
export function LibraryBin({ presets, open, onClose }: LibraryBinProps) {
  const done = useRunAndNotify();
  const [bringBack] = useUnbinMutation();
  const [remove] = useRemoveMutation();
  return (
    <Sheet title="Library bin" open={open} onClose={onClose}>
      {presets.map((preset) => (
        <BinnedRow
          key={preset.id}
          name={preset.name}
          under={`${presetTypeLabel(preset)} · binned ${whenInText(preset.binnedAt ?? '')}`}
          onBack={() =>
            void done(bringBack(`presets/${preset.id}`), (now) =>
              now.name && now.name !== preset.name
                ? `Out of the bin as ${now.name}: the old name is in use.`
                : `${preset.name} is out of the bin.`,
            )
          }
          onRemove={() => void done(remove(`presets/${preset.id}`), () => `${preset.name} was deleted for good.`)}
        />
      ))}
    </Sheet>
  );
}

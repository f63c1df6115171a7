import { sectionName } from '@old-echo/core/phrases/format-value';

import { Action, Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';
import { toggled } from '../ui/toggle-in-set';

interface SectionChipsProps {
  /** What there is to choose from. */
  readonly held: readonly string[];
  readonly chosen: ReadonlySet<string>;
  readonly onChange: (chosen: ReadonlySet<string>) => void;
}

/** Which sections come along. */
export const SectionChips = ({ held, chosen, onChange }: SectionChipsProps) => (
  <ChipRow>
    <Action
      kind="small"
      title="All"
      disabled={chosen.size === held.length && 'All sections are chosen.'}
      onPress={() => onChange(new Set(held))}
    />
    {held.map((section) => (
      <Chip
        key={section}
        toggle
        title={sectionName(section)}
        chosen={chosen.has(section)}
        onPress={() => onChange(toggled(chosen, section))}
      />
    ))}
  </ChipRow>
);

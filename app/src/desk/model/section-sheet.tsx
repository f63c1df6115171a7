import type { FamilySource } from '@old-echo/core/desk/profile-source';
import { plural, sectionName } from '@old-echo/core/phrases/format-value';

import { AppText } from '../../ui/app-text';
import { Option } from '../../ui/option';
import { Sheet } from '../../ui/sheet';
import { FromModel } from './from-model';

interface SectionSheetProps {
  /** Sections that it does not have yet are offered. */
  readonly family: FamilySource;
  readonly onChoose: (section: string, settings: Readonly<Record<string, unknown>>) => void;
  readonly onClose: () => void;
}

/** A section that strips do not have yet, with its settings and ranges as another model has them. */
export const SectionSheet = ({ family, onChoose, onClose }: SectionSheetProps) => (
  <Sheet title="A section like that of" open onClose={onClose}>
    <FromModel>
      {(families) => {
        const offered = families.flatMap(({ id, name, sections }) =>
          Object.entries(sections).flatMap(([section, settings]) =>
            section in family.sections ? [] : [{ id, name, section, settings }],
          ),
        );
        if (offered.length === 0) return <AppText tone="second">It has none that are not here already.</AppText>;
        return offered.map(({ id, name, section, settings }) => (
          <Option
            key={`${id} ${section}`}
            title={`${sectionName(section)} of ${name}`}
            under={plural(Object.keys(settings).length, 'setting')}
            chosen={false}
            onPress={() => onChoose(section, settings)}
          />
        ));
      }}
    </FromModel>
  </Sheet>
);

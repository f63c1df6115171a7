import type { FamilySource } from '@old-echo/core/desk/profile-source';
import { plural } from '@old-echo/core/phrases/format-value';

import { AppText } from '../../ui/app-text';
import { Option } from '../../ui/option';
import { Sheet } from '../../ui/sheet';
import { FromModel } from './from-model';

interface FamilySheetProps {
  /** Families that the model does not have yet. */
  readonly missing: readonly string[];
  readonly onChoose: (family: FamilySource) => void;
  readonly onClose: () => void;
}

/** Strips of a kind that a model does not have yet, taken from one that has them. */
export const FamilySheet = ({ missing, onChoose, onClose }: FamilySheetProps) => (
  <Sheet title="Strips like those of" open onClose={onClose}>
    <FromModel>
      {(families) => {
        const offered = families.filter(({ id }) => missing.includes(id));
        if (offered.length === 0) return <AppText tone="second">It has none that are not here already.</AppText>;
        return offered.map((family) => (
          <Option
            key={family.id}
            title={family.name}
            under={`${plural(family.count, 'strip')}, ${plural(Object.keys(family.sections).length, 'section')}`}
            chosen={false}
            onPress={() => onChoose(family)}
          />
        ));
      }}
    </FromModel>
  </Sheet>
);

import { useState } from 'react';

import { plural } from '@old-echo/core/phrases/format-value';

import { SectionChips } from '../components/section-chips';
import { MenuRow } from '../ui/menu';
import { Sheet } from '../ui/sheet';

interface WhichSectionsProps {
  /** What there is to choose from. */
  readonly held: readonly string[];
  readonly chosen: ReadonlySet<string>;
  readonly onChange: (chosen: ReadonlySet<string>) => void;
}

/** Says in a row which sections come along, and lets them be chosen in a sheet. */
export function WhichSections({ held, chosen, onChange }: WhichSectionsProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <MenuRow
        title="Sections"
        under={chosen.size === held.length ? 'All of them' : `${chosen.size} of ${plural(held.length, 'section')}`}
        onPress={() => setOpen(true)}
      />
      <Sheet title="Sections that come along" open={open} onClose={() => setOpen(false)}>
        <SectionChips held={held} chosen={chosen} onChange={onChange} />
      </Sheet>
    </>
  );
}

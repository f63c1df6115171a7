import type { Into } from '@old-echo/core/contracts/file-transfer';

import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';

interface IntoChipsProps {
  /** The songs and shows that are here. */
  readonly into: readonly Into[];
  /** Whether it can become one of its own. */
  readonly orNew: boolean;
  /** The one that is chosen; null for a new one. */
  readonly intoId: string | null;
  readonly onInto: (id: string | null) => void;
}

/** Which song or show something goes into. */
export function IntoChips({ into, orNew, intoId, onInto }: IntoChipsProps) {
  if (into.length === 0) return null;
  return (
    <>
      <AppText kind="strong">Into</AppText>
      <ChipRow role="tablist">
        {orNew ? <Chip title="New song or show" chosen={intoId === null} onPress={() => onInto(null)} /> : null}
        {into.map(({ id, name }) => (
          <Chip key={id} title={name} chosen={intoId === id} onPress={() => onInto(id)} />
        ))}
      </ChipRow>
    </>
  );
}

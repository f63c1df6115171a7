import type { ImportView } from '@old-echo/core/contracts/file-transfer';

import { AppText } from '../ui/app-text';
import { Chip } from '../ui/buttons';
import { ChipRow } from '../ui/chip-row';

interface IntoProps {
  readonly file: ImportView;
  readonly intoId: string | null;
  readonly onInto: (id: string | null) => void;
}

/** Which song or show a file goes into; an archive can also become one of its own. */
export function IntoChips({ file, intoId, onInto }: IntoProps) {
  if (file.into.length === 0) return null;
  return (
    <>
      <AppText kind="strong">Into</AppText>
      <ChipRow role="tablist">
        {file.format === 'archive' ? (
          <Chip title="New song or show" chosen={intoId === null} onPress={() => onInto(null)} />
        ) : null}
        {file.into.map(({ id, name }) => (
          <Chip key={id} title={name} chosen={intoId === id} onPress={() => onInto(id)} />
        ))}
      </ChipRow>
    </>
  );
}

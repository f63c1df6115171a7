import { type ReactNode, useState } from 'react';

import type { FamilySource } from '@old-echo/core/desk/profile-source';

import { useProfileSourceQuery, useProfilesQuery } from '../../store/desk-api';
import { Chip } from '../../ui/buttons';
import { ChipRow } from '../../ui/chip-row';

/** The models that are here, of which one is looked into, and what is made of its families. */
export function FromModel({ children }: { readonly children: (families: readonly FamilySource[]) => ReactNode }) {
  const { data: models = [] } = useProfilesQuery();
  const [chosen, setChosen] = useState<string>();
  const model = chosen ?? models[0]?.id ?? '';
  const { currentData: source } = useProfileSourceQuery(model, { skip: model === '' });
  return (
    <>
      <ChipRow role="tablist" aria-label="Model to take it from">
        {models.map(({ id, name }) => (
          <Chip key={id} title={name} chosen={id === model} onPress={() => setChosen(id)} />
        ))}
      </ChipRow>
      {source ? children(source.families) : null}
    </>
  );
}

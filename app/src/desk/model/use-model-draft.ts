import { useMemo } from 'react';

import { freeProfileId, withoutDeadRules } from '@old-echo/core/desk/edit-profile';
import { parseProfile, type Profile } from '@old-echo/core/desk/profile';
import type { ProfileSource } from '@old-echo/core/desk/profile-source';
import { Fault } from '@old-echo/core/fault/fault';
import { uniqueName } from '@old-echo/core/fault/text-shapes';

import { useProfileSourceQuery, useProfilesQuery } from '../../store/desk-api';
import { useDraft } from '../../store/use-draft';

/** A model of desk that somebody changes, or makes as a copy of another, before it is sent. */
export interface ModelDraft {
  /** As it was when somebody began. */
  readonly was: ProfileSource;
  readonly source: ProfileSource;
  /** Itself once it can be read, else why not, as a sentence. */
  readonly profile: Profile | string;
  readonly isChanged: boolean;
  readonly isCopy: boolean;
  readonly set: (source: ProfileSource) => void;
  readonly forget: () => void;
  readonly wasKept: boolean;
}

/** What the form about a model begins with. */
export const NO_CHANGE: { readonly was: ProfileSource | null; readonly source: ProfileSource | null } = {
  was: null,
  source: null,
};

/** What is typed into the form about a model, or about a copy of it, is kept under this. */
export const modelForm = (id: string, isCopy: boolean): string => `model/${isCopy ? 'copy/' : ''}${id}`;

/** Undefined while the model is fetched. What is changed survives that one leaves the form, and that the page is opened anew. */
export function useModelDraft(id: string, isCopy: boolean): ModelDraft | undefined {
  const { data: stored } = useProfileSourceQuery(id);
  const { data: models } = useProfilesQuery();
  const draft = useDraft(modelForm(id, isCopy), NO_CHANGE);
  const first = useMemo(
    () =>
      stored && models && isCopy
        ? copyOf(
            stored,
            models.map((model) => model.name),
            models.map((model) => model.id),
          )
        : stored,
    [stored, models, isCopy],
  );
  const { was, source } = draft.values;
  const now = source ?? first;
  const profile = useMemo(() => now && read(now), [now]);
  if (!now || !stored || !first || profile === undefined) return undefined;
  return {
    was: was ?? stored,
    source: now,
    profile,
    isChanged: source !== null && JSON.stringify(source) !== JSON.stringify(was ?? stored),
    isCopy,
    set: (changed) => draft.set({ was: was ?? stored, source: changed }),
    forget: draft.forget,
    wasKept: draft.wasKept,
  };
}

/** The same under a name and an id that no other has. */
function copyOf(source: ProfileSource, names: readonly string[], ids: readonly string[]): ProfileSource {
  const name = uniqueName(source.name, names);
  return { ...source, id: freeProfileId(name, ids), name };
}

function read(source: ProfileSource): Profile | string {
  try {
    return parseProfile(withoutDeadRules(source));
  } catch (error) {
    if (error instanceof Fault) return error.message;
    throw error;
  }
}

import { skipToken } from '@reduxjs/toolkit/query';
import { useEffect, useState } from 'react';

import { combine, type CombineResult } from '@old-echo/core/combine/combine';
import type { Recipe } from '@old-echo/core/combine/recipe';
import { type Picks, recipeScenes } from '@old-echo/core/combine/recipe';
import type { CombinationView } from '@old-echo/core/contracts/combination';
import type { Profile } from '@old-echo/core/desk/profile';

import { type ApiFault, faultIn } from '../store/api';
import { useCombinationQuery, usePickCellsMutation } from '../store/combine-api';
import { useDesksQuery, useProfileQuery } from '../store/desk-api';
import { type SceneWithState, useProductionsQuery, useSourcesQuery } from '../store/scenes-api';
import { useRunAndNotify } from '../store/use-run-and-notify';

export interface Combination {
  readonly saved: CombinationView;
  readonly profile: Profile;
  readonly recipe: Recipe;
  /** Every scene that something can come from, by id. */
  readonly sources: Readonly<Record<string, SceneWithState>>;
  readonly base: SceneWithState;
  readonly made: CombineResult;
  /** Whether everything that was picked is stored. */
  readonly stored: boolean;
  readonly pick: (change: Readonly<Record<string, string | null>>) => void;
}

/**
 * A scene in the making: what it is made of and what comes of it. What is picked is shown at once and stored behind it.
 * @param others scenes that something may be taken from besides those of its recipe
 */
export function useCombination(
  id: string,
  others: readonly string[],
): { readonly combination: Combination | undefined; readonly fault: ApiFault | undefined } {
  const { data: saved, error } = useCombinationQuery(id);
  const [own, setOwn] = useState<Picks | null>(null);
  const [store, { isLoading }] = usePickCellsMutation();
  const done = useRunAndNotify();
  const { data: productions } = useProductionsQuery();
  const { data: desks } = useDesksQuery();
  const deskId = productions?.find((p) => p.id === saved?.productionId)?.deskId;
  const profileId = desks?.find((desk) => desk.id === deskId)?.profileId;
  const { data: profile } = useProfileQuery(profileId ?? skipToken);
  const recipe: Recipe | undefined = saved && { ...saved.recipe, picks: own ?? saved.recipe.picks };
  const ids = recipe ? [...new Set([...recipeScenes(recipe), ...others])].sort() : [];
  const sources = useSourcesQuery(ids.length > 0 ? ids : skipToken);
  const waiting = own !== null && own !== saved?.recipe.picks && !isLoading;
  useEffect(() => {
    if (!waiting || !saved) return;
    void store({ id, picks: own, revision: saved.revision }).then((answer) => {
      if (answer.error) {
        setOwn(null);
        void done(Promise.resolve(answer), () => '');
      } else setOwn((latest) => (latest === own ? null : latest));
    });
    // Only another pick is stored anew.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [waiting, own]);
  const known = sources.data;
  const all = recipe && recipeScenes(recipe).every((scene) => known?.[scene]);
  const fault = faultIn(error ?? sources.error);
  const base = recipe && known?.[recipe.base];
  if (!saved || !recipe || !profile || !known || !all || !base) return { combination: undefined, fault };
  const pick: Combination['pick'] = (change) => {
    const picks = Object.entries({ ...recipe.picks, ...change });
    setOwn(Object.fromEntries(picks.flatMap(([cell, scene]) => (scene === null ? [] : [[cell, scene]]))));
  };
  const combination = {
    saved,
    profile,
    recipe,
    sources: known,
    base,
    made: combine(profile, recipe, (scene) => known[scene]?.state ?? {}),
    stored: own === null,
    pick,
  };
  return { combination, fault };
}

/** Which scene each cell of a new scene comes from: `base` for all that is not picked, `merge` for another line that is brought in whole. */
export interface Recipe {
  readonly base: string;
  readonly merge: { readonly scene: string; readonly parent: string } | null;
  readonly picks: Readonly<Record<string, string>>;
}

/** Cells and the scenes that they come from. */
export type Picks = Recipe['picks'];

/** Every scene that a recipe needs. */
export const recipeScenes = (recipe: Recipe): string[] => [
  ...new Set([...recipeParents(recipe), ...(recipe.merge ? [recipe.merge.parent] : [])]),
];

/** The scenes that a recipe's scene comes from, its base first. */
export const recipeParents = ({ base, merge, picks }: Recipe): string[] => [
  ...new Set([base, ...(merge ? [merge.scene] : []), ...Object.values(picks)]),
];

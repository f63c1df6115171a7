import type { Href } from 'expo-router';

interface Where {
  readonly isCopy: boolean;
  /** One family of its strips. */
  readonly family?: string;
}

/** The form about a model of desk, or about a copy of one. */
export const modelHref = (model: string, { isCopy, family }: Where): Href =>
  `/model/${model}${family === undefined ? '' : `/${family}`}${isCopy ? '?copy=1' : ''}` as Href;

import type { Href } from 'expo-router';

/** Where a scene in the making is; `others` are scenes that something may be taken from besides those that it names. */
export const combineHref = (id: string, others: readonly string[] = []): Href => ({
  pathname: '/combine',
  params: { id, ...(others.length > 0 ? { with: others.join(',') } : {}) },
});

import { expect, type Page } from '@playwright/test';

/** A desk as the server tells of it. */
export interface Desk {
  readonly id: string;
  readonly name: string;
  readonly lastRestoreId: string | null;
  readonly scene: { readonly id: string; readonly productionId: string } | null;
  readonly baseline: { readonly line: string } | null;
}

interface Production {
  readonly id: string;
  readonly name: string;
  readonly deskId: string;
  readonly versions: readonly { readonly id: string; readonly name: string }[];
}

export const read = async <T>(page: Page, path: string): Promise<T> =>
  (await (await page.request.get(`/api${path}`)).json()) as T;

export const deskNamed = async (page: Page, name: string): Promise<Desk> =>
  (await read<Desk[]>(page, '/desks')).find((desk) => desk.name === name)!;

export const productionNamed = async (page: Page, name: string): Promise<Production> =>
  (await read<Production[]>(page, '/productions')).find((production) => production.name === name)!;

/** Captures what is on a desk, without a screen; returns the id of the scene. */
export async function capture(page: Page, desk: Desk, versionId: string, name: string): Promise<string> {
  const answer = await page.request.post(`/api/desks/${desk.id}/captures`, { data: { versionId, name } });
  expect(answer.status()).toBe(201);
  return ((await answer.json()) as { id: string }).id;
}

/** A new production of a desk's, so that nothing is captured into what other tests count. */
export async function ownProduction(page: Page, desk: Desk, name: string, kind: 'song' | 'show' = 'song') {
  const answer = await page.request.post('/api/productions', { data: { deskId: desk.id, name, kind } });
  expect(answer.status(), await answer.text()).toBe(201);
  return productionNamed(page, name);
}

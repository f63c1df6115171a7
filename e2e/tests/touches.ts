import { expect, type Page } from '@playwright/test';

/** A job, and how many touches or keys it may take. */
interface Job {
  readonly job: string;
  readonly by: 'touches' | 'keys';
  readonly most: number;
}

const rows: string[] = [];

/** Runs in the page. */
const COUNTER = `{
  const counted = (window.counted = { touches: 0, keys: 0 });
  window.addEventListener('pointerdown', () => counted.touches++, true);
  window.addEventListener('keydown', ({ repeat }) => (counted.keys += repeat ? 0 : 1), true);
}`;

/** Counts fingers and keys on the page itself, from the moment it is opened. */
export const countOn = (page: Page): Promise<unknown> => page.addInitScript(COUNTER);

const countedOn = (page: Page): Promise<Record<Job['by'], number>> => page.evaluate('({ ...window.counted })');

/** Does a job on a page and counts what it takes. It may not take more; what it took is in the table. */
export async function counted(page: Page, { job, by, most }: Job, work: () => Promise<void>): Promise<void> {
  const before = await countedOn(page);
  await work();
  const after = await countedOn(page);
  const took = after[by] - before[by];
  const other = by === 'keys' ? 'touches' : 'keys';
  rows.push(`| ${job} | ${by} | ${took} | ${most} |`);
  expect([job, took, after[other] - before[other]]).toEqual([job, Math.min(took, most), 0]);
}

/** Prints what all jobs took. */
export const printTouches = (): void =>
  console.log(['| job | by | took | at most |', '| --- | --- | --- | --- |', ...rows].join('\n'));

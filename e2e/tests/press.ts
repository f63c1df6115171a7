import { expect, type Locator, type Page } from '@playwright/test';

/** Holds a button down for as long as a restore at a show asks for. */
export async function hold(page: Page, button: Locator): Promise<void> {
  await button.hover();
  await page.mouse.down();
  await page.waitForURL((url) => /\/restores\/[^/]+$/.test(url.pathname));
  await page.mouse.up();
}

/** Answers every caution of a preview: someone has looked. */
export async function checkAll(page: Page): Promise<void> {
  await expect(page.getByText('Loading the preview')).toHaveCount(0);
  await expect(page.getByRole('heading', { name: /changes?$/ })).toBeVisible();
  const open = page.getByRole('button', { name: 'I have checked' });
  while ((await open.count()) > 0) await open.first().click();
}

/** The button that restores, at a show. */
export const toHold = (page: Page): Locator =>
  page.getByRole('button', { name: /^Hold to (restore|apply|put back|finish|roll back)/ });

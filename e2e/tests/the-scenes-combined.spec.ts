import { readFile } from 'node:fs/promises';

import { expect, type Page, test } from '@playwright/test';

interface Named {
  readonly id: string;
  readonly name: string;
}
type State = Readonly<Record<string, Readonly<Record<string, unknown>>>>;

const read = async <T>(page: Page, path: string): Promise<T> =>
  (await (await page.request.get(`/api${path}`)).json()) as T;

async function song(page: Page) {
  const productions = await read<(Named & { versions: (Named & { newestSceneId: string })[] })[]>(page, '/productions');
  const found = productions.find(({ name }) => name === 'Lanterns on the Quay')!;
  const { scenes } = await read<{ scenes: (Named & { number: number })[] }>(
    page,
    `/productions/${found.id}/scenes?limit=200`,
  );
  return {
    ...found,
    sceneId: (name: string) => scenes.find((scene) => scene.name === name)!.id,
    numbered: (number: number) => scenes.find((scene) => scene.number === number)!.id,
  };
}
const stateOf = (page: Page, id: string) => read<State>(page, `/scenes/${id}/state`);

test('an instrumental takes over what the main mix has gained: what is at odds is settled, its voices stay muted', async ({
  page,
}) => {
  const { id, versions } = await song(page);
  const { newestSceneId } = versions.find(({ name }) => name === 'Main mix')!;
  const newest = await read<{ number: number }>(page, `/scenes/${newestSceneId}`);
  await page.goto(`/mixes/${id}`);
  const follower = page.getByTestId('drafts').getByText(/^Instrumental is \d+ scenes behind/);
  await expect(follower).toBeVisible();
  // The first of two that are behind.
  await page.getByTestId('drafts').getByRole('button', { name: 'Take over' }).first().click();
  await expect(page.getByRole('button', { name: '3 sections at odds to settle' })).toBeDisabled();
  await page.getByTestId('conflicts').getByRole('radio', { name: /^B: / }).first().click();
  await expect(page.getByRole('button', { name: '2 sections at odds to settle' })).toBeDisabled();
  // Left, and found again.
  await page.goto(`/mixes/${id}`);
  await page.getByTestId('drafts').getByRole('button', { name: 'Continue' }).first().click();
  await expect(page.getByRole('button', { name: '2 sections at odds to settle' })).toBeVisible();
  await page.getByRole('button', { name: 'Always A' }).click();
  await page.getByRole('button', { name: 'Save as a scene' }).click();
  await page.getByRole('textbox', { name: 'Name' }).first().fill('Caught up');
  await page.getByRole('button', { name: 'Save', exact: true }).click();
  await expect(page.getByTestId('made-from')).toBeVisible();
  const state = await stateOf(page, (await song(page)).sceneId('Caught up'));
  expect(['in.10', 'in.11', 'in.12'].map((strip) => state[strip]!['mute/on'])).toEqual([true, true, true]);
  await page.goto(`/mixes/${id}`);
  await expect(page.getByText(`with ${newest.number}`).first()).toBeVisible();
  await expect(follower).toHaveCount(0);
});

test('the drum of one mix, the voice rides of another, the rest of a third: picked, heard, kept and on its way to the desk', async ({
  page,
}) => {
  const { sceneId } = await song(page);
  const [a, b, c] = ['Static balance', 'Fiddle kept, hall back', 'Voice rides'].map(sceneId) as [
    string,
    string,
    string,
  ];
  await page.goto(`/compare?a=${a}&b=${b},${c}`);
  await page.getByRole('button', { name: 'Combine A and B' }).click();
  await page.getByRole('button', { name: 'Take from B into A' }).click();
  const sentence = page.getByTestId('sentence');
  await expect(sentence).toContainText('Everything is from 2 Static balance.');
  await expect(page.getByRole('button', { name: 'Nothing taken yet' })).toBeDisabled();
  await page.getByTestId('picks-in.7').getByRole('checkbox', { name: 'All' }).click();
  await expect(sentence).toContainText('Frame drum from 9 Fiddle kept, hall back, the rest from 2 Static balance.');
  await page.getByRole('tab', { name: 'C: 5 Voice rides' }).click();
  await page.getByRole('checkbox', { name: '○ Automation', exact: true }).click();
  await expect(sentence).toContainText('5 Voice rides, the rest from 2 Static balance.');
  // Left and gone on with another day: everything is where it was.
  await expect(page.getByRole('button', { name: 'Save as a scene' })).toBeEnabled();
  await page.reload();
  await expect(sentence).toContainText('5 Voice rides, the rest from 2 Static balance.');
  await page.getByRole('tab', { name: /^Outputs/ }).click();
  await expect(page.getByTestId('outputs')).toContainText('Main');
  await page.getByRole('button', { name: /^Listen: A against the result/ }).click();
  await expect(page.getByRole('button', { name: 'Play' })).toBeVisible();
  await page.getByRole('button', { name: 'Save as a scene' }).click();
  await page.getByRole('textbox', { name: 'Name' }).first().fill('Best of three');
  await page.getByRole('button', { name: 'Save and restore' }).click();
  await page.waitForURL(/\/restore\//);
  const kept = (await song(page)).sceneId('Best of three');
  const [made, one, other, third] = await Promise.all([kept, a, b, c].map((id) => stateOf(page, id)));
  const part = (state: State, strip: string, automation: boolean) =>
    Object.entries(state[strip]!).filter(([key]) => key.startsWith('automation/') === automation);
  expect(part(made!, 'in.7', false)).toEqual(part(other!, 'in.7', false));
  expect(part(made!, 'in.7', true)).toEqual(part(third!, 'in.7', true));
  expect(made!['in.10']!['automation/fader']).toEqual(third!['in.10']!['automation/fader']);
  expect([made!['in.1'], made!['fx.2']]).toEqual([one!['in.1'], one!['fx.2']]);
  await page.goto(`/mixes/${(await song(page)).id}/scene/${kept}`);
  await expect(page.getByTestId('made-from')).toContainText('the rest from 2 Static balance.');
});

test('a wish is written down, answered with a scene, seen before and after, and exported', async ({ page }) => {
  const { id, versions } = await song(page);
  await page.goto(`/mixes/${id}/mix-notes?version=${versions[0]!.id}`);
  await expect(page.getByText('Let the frame drum breathe before the last verse')).toBeVisible();
  await page.getByRole('button', { name: 'Add a mix note' }).click();
  await page.getByRole('textbox', { name: 'Note' }).fill('=More fiddle');
  await page.getByLabel('Time in the song, e.g. 2:05').fill('1:75');
  await expect(page.getByRole('button', { name: 'Add', exact: true })).toBeDisabled();
  await page.getByLabel('Time in the song, e.g. 2:05').fill('1:05');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  const mixNote = page.locator('[data-testid^="mix-note-"]').filter({ hasText: '=More fiddle' });
  await expect(mixNote).toContainText('1:05');
  await mixNote.getByRole('button', { name: 'Answer with a scene' }).click();
  await page.getByRole('radio', { name: '7 Fiddle forward' }).click();
  await expect(mixNote).toContainText('Answered by 7 Fiddle forward');
  const [download] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: 'Save as CSV' }).click(),
  ]);
  const csv = await readFile(await download.path(), 'utf8');
  // RFC 4180; what a spreadsheet would work out begins with an apostrophe.
  expect(csv.split('\r\n')[0]).toBe('time,strip,asked by,note,status,scene');
  expect(csv).toContain("1:05,,,'=More fiddle,done,7 Fiddle forward\r\n");
  await mixNote.getByRole('button', { name: 'Before and after' }).click();
  await expect(page.getByTestId('side-A')).toContainText('5 Voice rides');
  await expect(page.getByTestId('side-B')).toContainText('7 Fiddle forward');
});

test('one strip’s section goes from one scene into others, with a preview and one undo', async ({ page }) => {
  const { numbered } = await song(page);
  const [a, b, third] = [2, 7, 3].map(numbered) as [string, string, string];
  await page.goto(`/compare?a=${a}&b=${b}&cell=in.1/eq`);
  await expect(page.getByTestId('detail-in.1/eq')).toBeVisible();
  await page.getByRole('button', { name: 'Combine A and B' }).click();
  await page.getByRole('button', { name: 'Apply EQ of Fiddle of B to other scenes' }).click();
  await page.getByTestId('into-3').click();
  await page.getByTestId('into-5').click();
  await page.getByRole('button', { name: 'Apply to 2 scenes' }).click();
  await expect(page.getByText('Applied to 2 scenes.')).toBeVisible();
  const eq = async (id: string) => {
    const state = await stateOf(page, id);
    return Object.entries(state['in.1']!).filter(([key]) => key.startsWith('eq/'));
  };
  const written = (await song(page)).numbered(3);
  expect(await eq(written)).toEqual(await eq(b));
  await page.getByRole('button', { name: 'Undo' }).click();
  await expect.poll(async () => (await song(page)).numbered(3)).toBe(third);
});

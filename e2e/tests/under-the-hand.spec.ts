import { expect, type Page, test } from '@playwright/test';

import type { RenderView } from '@old-echo/core/contracts/sound';

import { capture, type Desk, deskNamed, productionNamed, read } from './from-server';
import { differing, type Settings, StandIn } from './stand-in';
import { counted, countOn, printTouches } from './touches';

const boathouse = new StandIn('boathouse');
const drift = (page: Page) => page.getByTestId('drift-count');
const held = () => boathouse.settings();

let desk: Desk;
let version: string;
/** What each scene was captured from, by its name. */
const mixes: Record<string, Settings> = {};

/** Moves faders by hand, and waits until the page tells of them. */
async function hands(page: Page, moves: Settings): Promise<void> {
  await boathouse.hands(moves);
  await expect(drift(page)).not.toHaveText('0');
}

/** Captures what is on the desk as a mix of that name, and puts it at hand. */
async function mix(page: Page, name: string, moves: Settings): Promise<string> {
  await boathouse.hands(moves);
  await expect
    .poll(async () => {
      const now = await read<Record<string, Settings>>(page, `/desks/${desk.id}/state`);
      return Object.keys(moves).every((address) => {
        const [strip = '', ...key] = address.split('/');
        return now[strip]?.[key.join('/')] === moves[address];
      });
    })
    .toBe(true);
  mixes[name] = await held();
  return capture(page, desk, version, name);
}

/** The desk holds exactly what it held when a mix was captured. */
const expectOnDesk = (name: string) => expect.poll(async () => differing(mixes[name]!, await held())).toEqual([]);

test.describe.configure({ mode: 'serial' });

test.beforeEach(async ({ page }) => {
  await countOn(page);
  desk = await deskNamed(page, 'Boathouse');
});

test.afterAll(printTouches);

test('two mixes captured one after the other are there and back at one touch, and at one key', async ({ page }) => {
  await page.request.patch(`/api/desks/${desk.id}`, { data: { mode: 'studio', safes: [] } });
  version = (await productionNamed(page, 'Lanterns on the Quay')).versions[0]!.id;
  await mix(page, 'Fiddle in front', { 'in.1/fader/level': -9, 'in.5/fader/level': -11 });
  await mix(page, 'Bass in front', { 'in.1/fader/level': -14, 'in.5/fader/level': -8 });
  await page.goto(`/desk/${desk.id}`);
  await expect(page.getByTestId('swap-to')).toContainText(/Swap leads to \d+ Fiddle in front/);
  const swap = page.getByRole('button', { name: 'Swap', exact: true });
  for (const name of ['Fiddle in front', 'Bass in front'])
    await counted(page, { job: `swap to ${name}`, by: 'touches', most: 1 }, async () => {
      await swap.tap();
      await expect(page.getByText(new RegExp(`Swapped to \\d+ ${name}`))).toBeVisible();
      await expectOnDesk(name);
    });
  await counted(page, { job: 'swap to Fiddle in front', by: 'keys', most: 1 }, async () => {
    await page.keyboard.press('f');
    await expectOnDesk('Fiddle in front');
  });
});

test('a tweak that nobody saved is not lost by a swap, and is told by the scene that it was made on', async ({
  page,
}) => {
  await page.goto(`/desk/${desk.id}`);
  await hands(page, { 'in.7/fader/level': -21 });
  const tweaked = await held();
  await page.keyboard.press('f');
  await expectOnDesk('Bass in front');
  await expect(page.getByTestId('swap-to')).toContainText(/\d+ Fiddle in front, 1 setting moved/);
  await page.reload();
  await expect(page.getByTestId('swap-to')).toContainText(/\d+ Fiddle in front, 1 setting moved/);
  await page.keyboard.press('f');
  await expect.poll(async () => differing(tweaked, await held())).toEqual([]);
  await expect(page.getByText(/Swapped to \d+ Fiddle in front, 1 setting moved/)).toBeVisible();
});

test('everything back, and saved into the scene that stands, each at one touch; the save undone at another', async ({
  page,
}) => {
  await page.goto(`/desk/${desk.id}`);
  await expect(drift(page)).toHaveText('1');
  await counted(page, { job: 'everything back to the scene', by: 'touches', most: 1 }, async () => {
    await page.getByRole('button', { name: 'Put all back' }).tap();
    await expectOnDesk('Fiddle in front');
    await expect(drift(page)).toHaveText('0');
  });
  await hands(page, { 'in.1/fader/level': -10, 'in.2/fader/level': -17 });
  const saved = await held();
  await counted(page, { job: 'save into the scene that stands', by: 'touches', most: 2 }, async () => {
    await page.getByRole('button', { name: /^Save to \d+$/ }).tap();
    await expect(drift(page)).toHaveText('0');
  });
  // Opened afresh, it can still be undone.
  await page.reload();
  await counted(page, { job: 'undo that save', by: 'touches', most: 1 }, async () => {
    await page.getByRole('button', { name: 'Undo save' }).tap();
    await expect(drift(page)).toHaveText('2');
  });
  expect(differing(saved, await held())).toEqual([]);
  await page.getByRole('button', { name: 'Put all back' }).tap();
  await expectOnDesk('Fiddle in front');
});

const rowOf = (page: Page, strip: string) =>
  page.getByTestId(`strip-${strip}`).locator('..').getByTestId(`strip-${strip}`);
/** Selects strips: the first with a long press on its name, the others with a touch each. */
async function select(page: Page, [first = '', ...others]: readonly string[]): Promise<void> {
  await rowOf(page, first).click({ delay: 700, position: { x: 60, y: 25 } });
  for (const strip of others) await rowOf(page, strip).tap();
  await expect(page.getByText(`${1 + others.length} selected`)).toBeVisible();
}
const levels = async (strips: readonly string[]) => {
  const now = await held();
  return strips.map((strip) => Number(now[`${strip}/fader/level`]));
};

test('three selected strips go down together by the same step, exactly, and back at one touch', async ({ page }) => {
  const strips = ['in.1', 'in.2', 'in.8'];
  await page.goto(`/desk/${desk.id}`);
  const before = await levels(strips);
  await select(page, strips);
  const dot = rowOf(page, 'in.2').getByRole('slider');
  await dot.scrollIntoViewIfNeeded();
  const { x, y, width, height } = (await dot.boundingBox())!;
  await counted(page, { job: 'three selected strips down together', by: 'touches', most: 1 }, async () => {
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.mouse.down();
    // A careful finger rests on the dot before it moves: it holds the fader, not the strip.
    await page.evaluate('new Promise((rested) => setTimeout(rested, 700))');
    await page.mouse.move(x + width / 2 - 20, y + height / 2, { steps: 4 });
    await page.mouse.move(x + width / 2 - 30, y + height / 2, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByText('3 strips moved together.')).toBeVisible();
  });
  const after = await levels(strips);
  const by = after[1]! - before[1]!;
  expect(by).toBeLessThan(-2);
  for (const [i, level] of after.entries()) expect(level - before[i]!).toBeCloseTo(by, 1);
  await page.getByRole('button', { name: 'Undo' }).tap();
  await expect.poll(() => levels(strips)).toEqual(before);
});

test('going over the numbers selects, once one strip is selected; a touch that goes nowhere still selects one', async ({
  page,
}) => {
  await page.goto(`/desk/${desk.id}`);
  await select(page, ['in.1']);
  const selected = page.getByRole('button', { name: /, selected/ });
  const middle = async (strip: string, text: string) => {
    const { x, y, width, height } = (await rowOf(page, strip).getByText(text, { exact: true }).boundingBox())!;
    return [x + width / 2, y + height / 2] as const;
  };
  const to = await middle('in.5', '05');
  await counted(page, { job: 'four more strips selected', by: 'touches', most: 1 }, async () => {
    await page.mouse.move(...(await middle('in.2', '02')));
    await page.mouse.down();
    await page.mouse.move(...to, { steps: 8 });
    await page.mouse.up();
    await expect(selected).toHaveCount(5);
  });
  await page.touchscreen.tap(...(await middle('in.6', '06')));
  await expect(selected).toHaveCount(6);
  expect(new URL(page.url()).pathname).toBe(`/desk/${desk.id}`);
});

test('a strip held while the page is busy is selected, not opened', async ({ page }) => {
  await page.goto(`/desk/${desk.id}`);
  await expect(rowOf(page, 'in.1')).toBeVisible();
  // Soon after the touch, the page has no time for anything until after the finger is up.
  await page.evaluate(`addEventListener('mousedown', ({ timeStamp }) => setTimeout(() => {
    while (performance.now() < timeStamp + 1200);
  }, 50), { capture: true, once: true })`);
  await select(page, ['in.1']);
  expect(new URL(page.url()).pathname).toBe(`/desk/${desk.id}`);
});

test('one compressor setting goes to all selected strips from the page of one of them', async ({ page }) => {
  const strips = ['in.1', 'in.2', 'in.8'];
  await page.goto(`/desk/${desk.id}`);
  await select(page, strips);
  await counted(page, { job: 'one compressor switch on all selected strips', by: 'touches', most: 4 }, async () => {
    await page.getByRole('button', { name: 'Actions …' }).tap();
    await page.getByRole('button', { name: 'Move them together' }).tap();
    await page
      .getByRole('button', { name: /^Compressor/ })
      .first()
      .tap();
    await page.getByRole('switch', { name: 'On', exact: true }).first().tap();
    await expect(page.getByText('3 strips moved together.')).toBeVisible();
  });
});

test('a value is typed with its unit, and a strip is named', async ({ page }) => {
  await page.goto(`/desk/${desk.id}`);
  await counted(page, { job: 'type a fader, beside its digits', by: 'touches', most: 2 }, async () => {
    await rowOf(page, 'in.2')
      .getByRole('button', { name: /type it$/ })
      .tap();
    await page.getByTestId('typed-value').selectText();
    await page.keyboard.insertText('-19.5 dB');
    await page.getByRole('button', { name: 'Set', exact: true }).tap();
    await expect.poll(() => levels(['in.2'])).toEqual([-19.5]);
  });
  await page.goto(`/desk/${desk.id}/strip/in.2`);
  await counted(page, { job: 'name a strip, beside its letters', by: 'touches', most: 2 }, async () => {
    await page.getByRole('button', { name: /: rename$/ }).tap();
    await page.keyboard.insertText('Fiddle far');
    await page.getByRole('button', { name: 'Set', exact: true }).tap();
    await expect(page.getByRole('heading', { name: 'Fiddle far' })).toBeVisible();
  });
  await expect.poll(async () => (await held())['in.2/label/name']).toBe('Fiddle far');
});

test('selected strips come back from a scene, whole or one section of them', async ({ page }) => {
  await page.goto(`/desk/${desk.id}`);
  const strips = ['in.1', 'in.5'];
  await hands(page, { 'in.1/fader/level': -30, 'in.5/fader/level': -31, 'in.9/fader/level': -32 });
  const before = await held();
  await select(page, strips);
  await counted(page, { job: 'selected strips back from a scene', by: 'touches', most: 3 }, async () => {
    await page.getByRole('button', { name: 'From a scene …' }).tap();
    await page.getByRole('radio', { name: /Fiddle in front/ }).tap();
    await page.getByRole('button', { name: /^Fader/ }).tap();
    await expect(page.getByText(/^2 strips restored from \d+ Fiddle in front\. 2 settings confirmed/)).toBeVisible();
  });
  expect(differing(before, await held()).sort()).toEqual(strips.map((strip) => `${strip}/fader/level`));
  expect(await levels(strips)).toEqual(strips.map((strip) => mixes['Fiddle in front']![`${strip}/fader/level`]));
});

test('a scene at hand comes back at one touch or its number, is marked, and its way back is there as long as one likes', async ({
  page,
}) => {
  const { scenes } = await read<{ scenes: { id: string; name: string; number: number }[] }>(
    page,
    `/productions/${(await productionNamed(page, 'Lanterns on the Quay')).id}/scenes?limit=20`,
  );
  const [bass, fiddle] = ['Bass in front', 'Fiddle in front'].map((name) => scenes.find((s) => s.name === name)!);
  await page.request.put(`/api/desks/${desk.id}/at-hand`, { data: { ids: [fiddle!.id, bass!.id] } });
  await page.goto(`/desk/${desk.id}`);
  await hands(page, { 'in.8/fader/level': -23 });
  const before = await held();
  const atHand = page.getByTestId(`at-hand-${bass!.number}`);
  await counted(page, { job: 'a scene at hand comes back', by: 'touches', most: 1 }, async () => {
    await atHand.tap();
    await expectOnDesk('Bass in front');
    await expect(atHand).toHaveAttribute('aria-current', 'true');
  });
  await page.reload();
  await counted(page, { job: 'its way back', by: 'touches', most: 1 }, async () => {
    await page.getByRole('button', { name: 'Way back' }).tap();
    await expect.poll(async () => differing(before, await held())).toEqual([]);
  });
  await counted(page, { job: 'a scene at hand comes back', by: 'keys', most: 1 }, async () => {
    await page.keyboard.press('2');
    await expectOnDesk('Bass in front');
  });
});

test('with a scope held, the same parts of one scene after the other are on the desk at a touch or a key each, and are kept', async ({
  page,
}) => {
  const { scenes } = await read<{ scenes: { id: string; name: string; number: number }[] }>(
    page,
    `/productions/${(await productionNamed(page, 'Lanterns on the Quay')).id}/scenes?limit=20&ownOnly=true`,
  );
  const own = ['Bass in front', 'Fiddle in front'].map((name) => scenes.find((s) => s.name === name)!);
  await page.goto(`/desk/${desk.id}`);
  await hands(page, { 'in.5/fader/level': -31, 'in.8/fader/level': -26 });
  const before = await held();
  await select(page, ['in.1', 'in.5']);
  await counted(page, { job: 'hold one section of selected strips', by: 'touches', most: 4 }, async () => {
    await page.getByRole('button', { name: 'Actions …' }).tap();
    await page.getByRole('button', { name: 'Step through scenes with only these …' }).tap();
    await page.getByRole('checkbox', { name: 'Fader' }).tap();
    await page.getByRole('button', { name: 'Hold it' }).tap();
    await expect(page.getByTestId('sentence')).toContainText('Faders on 2 strips come back.');
  });
  await page.getByRole('button', { name: 'Clear' }).tap();
  const expectHeldFrom = (name: string) =>
    expect
      .poll(async () => [await levels(['in.1', 'in.5']), (await levels(['in.8']))[0]])
      .toEqual([['in.1', 'in.5'].map((strip) => mixes[name]![`${strip}/fader/level`]), before['in.8/fader/level']]);
  const card = page.getByTestId('held-scope');
  const at = page.getByTestId('held-from');
  await expect(at).toHaveText(/Bass in front$/);
  await counted(page, { job: 'the held scope from the scene before', by: 'touches', most: 1 }, async () => {
    await card.getByRole('button', { name: new RegExp(`Take it from ${own[1]!.number} `) }).tap();
    await expect(at).toHaveText(`${own[1]!.number} Fiddle in front`);
    await expectHeldFrom('Fiddle in front');
  });
  await page.reload();
  await expect(at).toHaveText(`${own[1]!.number} Fiddle in front`);
  await counted(page, { job: 'the held scope from the scene after', by: 'keys', most: 1 }, async () => {
    await page.keyboard.press('ArrowRight');
    await expectHeldFrom('Bass in front');
  });
  await expect(at).toHaveText(`${own[0]!.number} Bass in front`);
  await page.keyboard.press('ArrowLeft');
  await expect(at).toHaveText(`${own[1]!.number} Fiddle in front`);
  await page.getByRole('button', { name: 'Put all back' }).tap();
  await expect(drift(page)).toHaveText('0');
  await counted(page, { job: 'keep what is held as a scene', by: 'keys', most: 1 }, async () => {
    await page.keyboard.press('Enter');
    await expect(page.getByTestId('scene-name')).toHaveValue('Bass in front, with others');
  });
  await page.getByRole('button', { name: 'Capture', exact: true }).tap();
  await expect(page.getByText(/^Captured \d+ Bass in front, with others/)).toBeVisible();
  const kept = await read<{ scenes: { parents: string[] }[] }>(
    page,
    `/productions/${(await productionNamed(page, 'Lanterns on the Quay')).id}/scenes?limit=1&ownOnly=true`,
  );
  expect([...kept.scenes[0]!.parents].sort()).toEqual(own.map(({ id }) => id).sort());
  await page.getByRole('button', { name: 'Let go of the held scope' }).tap();
  await expect(card).toBeHidden();
});

test('from hearing to deciding: the mix that won is on the desk at one touch, the desk goes along at a key, and one strip of the other is kept', async ({
  page,
}) => {
  const { scenes } = await read<{ scenes: { id: string; name: string }[] }>(
    page,
    `/productions/${(await productionNamed(page, 'Lanterns on the Quay')).id}/scenes?limit=20&ownOnly=true`,
  );
  const [bass, fiddle] = ['Bass in front', 'Fiddle in front'].map((name) => scenes.find((s) => s.name === name)!.id);
  await page.goto(`/desk/${desk.id}`);
  await hands(page, { 'in.8/fader/level': -29 });
  const tweaked = await held();
  await page.goto(`/compare?a=${bass}&b=${fiddle},now&cell=in.1/fader`);
  await counted(page, { job: 'B won: onto the desk', by: 'touches', most: 1 }, async () => {
    await page.getByRole('button', { name: /^Put B on Boathouse: / }).tap();
    await expectOnDesk('Fiddle in front');
  });
  // What was on the desk stays in the comparison, as it was.
  await expect(page).toHaveURL(new RegExp(`a=${bass}&b=${fiddle}(,|%2C)(?!now)`));
  await expect(page.getByTestId('decide')).toContainText(/Fiddle in front restored\. \d+ settings? confirmed/);
  await page.getByRole('checkbox', { name: /Desk follows/ }).tap();
  await counted(page, { job: 'A on the desk, to hear it there', by: 'keys', most: 1 }, async () => {
    await page.keyboard.press('1');
    await expectOnDesk('Bass in front');
  });
  await page.keyboard.press('3');
  await expect.poll(async () => differing(tweaked, await held())).toEqual([]);
  await expect(page).toHaveURL(/at=1/);
  await page.keyboard.press('1');
  await expectOnDesk('Bass in front');
  const before = await held();
  await page.keyboard.press('2');
  await expectOnDesk('Fiddle in front');
  await page.keyboard.press('1');
  await expectOnDesk('Bass in front');
  const own = differing(before, mixes['Fiddle in front']!).filter((address) => address.startsWith('in.1/'));
  expect(own).not.toEqual([]);
  const detail = page.getByTestId('detail');
  await counted(page, { job: 'one strip of the other mix', by: 'touches', most: 1 }, async () => {
    await detail.getByRole('button', { name: /^Put B of .* alone/ }).tap();
    await expect.poll(async () => differing(before, await held())).toEqual(own);
  });
});

/** Loudness of the first strip alone with some settings over what the desk holds, in LUFS. */
async function loudnessOfFirst(page: Page, settings: Settings): Promise<number> {
  const production = (await productionNamed(page, 'Lanterns on the Quay')).id;
  const data = { productionId: production, deskId: desk.id, settings, output: 'main.1', solo: 'in.1' };
  let view = (await (await page.request.post('/api/renders', { data })).json()) as RenderView;
  while (view.status === 'running') view = await read<RenderView>(page, `/renders/${view.id}?wait=400`);
  return view.measured!.loudness.integrated!;
}

test('one preset after the other is heard on a strip at a touch each, as loud as it was, and is gone at one', async ({
  page,
}) => {
  await page.goto(`/desk/${desk.id}/strip/in.1`);
  const before = await held();
  await page.getByRole('button', { name: /Try presets/ }).tap();
  await page.getByRole('tab', { name: /^EQ \d/ }).tap();
  await expect(page.getByRole('checkbox', { name: /Level-matched/ })).toBeChecked();
  const tried = new Set<string>();
  for (const nth of ['first', 'second'])
    await counted(page, { job: `the ${nth} preset on a strip`, by: 'touches', most: 1 }, async () => {
      await page.getByRole('button', { name: 'Next preset' }).tap();
      // What is said of the one before has gone by then.
      await expect(page.getByTestId('tried')).not.toHaveText([...tried].at(-1) ?? 'none');
      await expect(
        page.getByText(/ on .*\. \d+ settings? confirmed in .* Fader .*: as loud as it was\./),
      ).toBeVisible();
      tried.add((await page.getByTestId('tried').textContent())!);
    });
  expect(tried.size).toBe(2);
  const moved = differing(before, await held());
  expect(moved).not.toEqual([]);
  expect(moved.filter((address) => !/^in\.1\/(eq\/|fader\/level$)/.test(address))).toEqual([]);
  const was = Object.fromEntries(moved.map((address) => [address, before[address]!]));
  const [now, then] = [await loudnessOfFirst(page, {}), await loudnessOfFirst(page, was)];
  // A fader moves by a tenth of a decibel.
  expect(Math.abs(now - then)).toBeLessThan(0.06);
  await counted(page, { job: 'the strip as it was', by: 'touches', most: 1 }, async () => {
    await page.getByRole('button', { name: 'As it was' }).tap();
    await expect.poll(async () => differing(before, await held())).toEqual([]);
  });
});

test('a strip is cloned whole: dragged onto another, all sections, applied', async ({ page }) => {
  await page.goto(`/desk/${desk.id}`);
  const before = await held();
  const grip = async (strip: string) =>
    (await rowOf(page, strip).getByText(strip.slice(3).padStart(2, '0')).first().boundingBox())!;
  const [from, to] = [await grip('in.2'), await grip('in.5')];
  await counted(page, { job: 'clone a strip whole', by: 'touches', most: 3 }, async () => {
    await page.mouse.move(from.x + 5, from.y + 5);
    await page.mouse.down();
    await page.mouse.move(from.x + 5, from.y + 30, { steps: 5 });
    await page.mouse.move(to.x + 5, to.y + 5, { steps: 10 });
    await page.mouse.up();
    await page.getByRole('button', { name: 'All', exact: true }).tap();
    await page.getByRole('button', { name: 'Apply to 1 strip' }).tap();
    await expect.poll(async () => (await held())['in.5/label/name']).toBe(before['in.2/label/name']);
  });
  const after = await held();
  const own = (settings: Settings, strip: string) =>
    Object.entries(settings).flatMap(([address, value]) =>
      address.startsWith(`${strip}/`) && !/\/(source|routing|automation)\//.test(address)
        ? [[address.slice(strip.length), value] as const]
        : [],
    );
  expect(own(after, 'in.5')).toEqual(own(before, 'in.2'));
  expect(differing(before, after).filter((address) => !address.startsWith('in.5/'))).toEqual([]);
  await page.getByRole('button', { name: 'Way back' }).tap();
  await expect.poll(async () => differing(before, await held())).toEqual([]);
});

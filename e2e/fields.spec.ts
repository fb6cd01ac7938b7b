import { expect, type Locator } from '@playwright/test';
import { makeStep, STEP_KINDS, type StepKindName } from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { docOf, openDemo, openFromStock, openNew, settled, typeNumber } from './helpers.ts';
import { test } from './test.ts';

const FIELDS = 'input:not([type=radio]):not([type=color]):not([type=checkbox]):not([type=file]):not([readonly])';

/** Keys go into a field one by one, and stay there until it is left. */
async function takesTyping(field: Locator): Promise<void> {
  const number = (await field.getAttribute('type')) === 'number';
  const before = await field.inputValue();
  await field.focus();
  await field.press(number ? 'End' : 'Control+a');
  const typed = number ? '1' : 'ab2';
  await field.pressSequentially(typed);
  expect(await field.inputValue(), (await field.getAttribute('aria-label')) ?? '').toBe(
    number ? before + typed : typed,
  );
  await field.fill(before);
}

async function eachTakesTyping(part: Locator): Promise<number> {
  const fields = part.locator(FIELDS);
  await fields.first().waitFor();
  const count = await fields.count();
  for (let i = 0; i < count; i++) if (await fields.nth(i).isVisible()) await takesTyping(fields.nth(i));
  return count;
}

test('every field takes what is typed, key by key, in every tray and on every screen', async ({ page }) => {
  await openDemo(page, 'Leaf with all its maps');
  const tray = page.getByRole('complementary', { name: 'Settings' });
  for (const tile of ['material-tile', 'card-tile', 'levels-tile', 'step-from-colour', 'step-bleed']) {
    const found = page.getByTestId(tile);
    await (tile.startsWith('step') ? found.locator('.face') : found).click();
    expect(await eachTakesTyping(tray), tile).toBeGreaterThan(0);
  }
  await page.getByTestId('insert-mask').click();
  await takesTyping(page.getByPlaceholder('Type to find a step'));
  await page.keyboard.press('Escape');

  await page.getByTestId('to-hand-off').click();
  const pattern = page.getByRole('textbox', { name: 'File name pattern' });
  await takesTyping(pattern);
  await pattern.fill('{piece}_{nonsense}');
  await expect(page.getByText('The name pattern holds {nonsense}.')).toBeVisible();
  await pattern.press('Enter'); // not taken
  await pattern.fill('aster_{map}');
  await pattern.press('Enter');
  await expect.poll(async () => (await docOf(page)).handOff.pattern).toBe('aster_{map}');
  await page.getByRole('button', { name: 'Undo' }).click();

  await page.getByRole('link', { name: 'Stock', exact: true }).click();
  await takesTyping(page.getByRole('textbox', { name: 'Search pieces' }));
  await openFromStock(page, 'Leaf atlas');
  await settled(page);
  await page.getByText('Parts', { exact: false }).first().waitFor();
  for (const closed of await tray.locator('details:not([open]) > summary').all()) await closed.click();
  expect(await eachTakesTyping(tray)).toBeGreaterThan(5);
  const group = tray.getByRole('textbox', { name: /^Group of / }).first();
  await group.fill('large');
  await group.press('Enter');
  await expect.poll(async () => (await docOf(page)).sources[0].recipe?.parts?.[0].group).toBe('large');
});

// fields of numbers and texts are one component each: the first and the last of a tray, of every third kind, stand for them
test('the first and the last field of a tray take typing', async ({ page }) => {
  test.setTimeout(240_000);
  const kinds = (Object.keys(STEP_KINDS) as StepKindName[]).filter((_, i) => i % 3 === 0);
  await openNew(page, 'kinds.png', drawLeafScan(7, 64).colour, () =>
    kinds.map((kind) => ({ ...makeStep(`kind-${kind}`, kind), on: false })),
  );
  const tray = page.getByRole('complementary', { name: 'Settings' });
  let fields = 0;
  for (const kind of kinds) {
    await page.getByTestId(`step-${kind}`).locator('.face').click();
    await expect(tray.getByRole('heading', { name: STEP_KINDS[kind].label, exact: true })).toBeVisible();
    const all = await tray.locator(FIELDS).filter({ visible: true }).all();
    for (const field of new Set([all.at(0), all.at(-1)])) if (field) await takesTyping(field);
    fields += all.length;
  }
  expect(fields).toBeGreaterThan(30);
});

test('a number that is not taken as it was typed says so', async ({ page }) => {
  await openDemo(page, 'Cordgrass card');
  await typeNumber(page, 'Cutoff', '7');
  await expect(page.getByText('1 is the most: it was taken.')).toBeVisible();
  const cutoff = page.getByRole('spinbutton', { name: 'Cutoff', exact: true });
  await cutoff.focus();
  await cutoff.press('Control+a');
  await cutoff.pressSequentially('e');
  await cutoff.press('Enter');
  await expect(page.getByText('No number: it stays 1.')).toBeVisible();
});

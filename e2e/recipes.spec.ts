import { expect, type Page } from '@playwright/test';
import { allocateHeap, growRecipe, type RunSource, type TuftParams } from '@lithe-sieve/core';
import { choose, docOf, expectTexels, seenAt, settled, sourcesOf, typeNumber } from './helpers.ts';
import { expectAccessible } from './axe.ts';
import { test } from './test.ts';

async function grow(page: Page, name: string): Promise<void> {
  await page.goto('/');
  await page.getByTestId('grow').click();
  await page.getByTestId('gallery').getByRole('button', { name }).click();
  await page.waitForURL(/bench/);
  await settled(page);
}

/** The first source as core grows it here. */
async function grownHere(page: Page): Promise<RunSource[]> {
  const [{ id, sha256, recipe }] = await sourcesOf(page);
  const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
  return [{ id, sha256, ...growRecipe(recipe!, { scale: 1, allocate: allocateHeap, bands }) }];
}

const tuftOf = async (page: Page) => (await sourcesOf(page))[0].recipe!.params as TuftParams;

test('a tuft is grown, shaped by its handles, a blade is pinned; the Sheet shows what core grows, the Hand-off writes it', async ({
  page,
}) => {
  await grow(page, 'Cordgrass');
  await page.getByText('Size', { exact: true }).click();
  await typeNumber(page, 'Width, texels', '512');
  await typeNumber(page, 'Height, texels', '512');
  await settled(page);

  const before = (await tuftOf(page)).envelope;
  const top = page.locator('[data-handle="top 3"]');
  const box = (await top.boundingBox())!;
  await page.mouse.move(box.x + 6, box.y + 6);
  await page.mouse.down();
  await page.mouse.move(box.x + 6, box.y + 66, { steps: 5 });
  await page.mouse.up();
  await page.mouse.move(box.x + 6, box.y + 76);
  await page.mouse.down();
  await page.mouse.move(box.x + 6, box.y + 160, { steps: 5 });
  await page.keyboard.press('Escape'); // takes it back
  await page.mouse.up();
  await page.locator('[data-handle="from"]').focus();
  await page.keyboard.press('ArrowLeft');
  await settled(page);
  const shaped = await tuftOf(page);
  expect(shaped.envelope[3]).toBeLessThan(before[3] - 0.1);
  expect(shaped.envelope[3]).toBeGreaterThan(before[3] - 0.25); // what was taken back is not in it
  expect(shaped.fromX).toBeCloseTo(0.35, 6);

  const blade = await seenAt(page, 0.5, 0.8);
  await page.mouse.click(blade.x, blade.y);
  await settled(page);
  const [pin] = (await tuftOf(page)).pinned;
  await page.getByTestId('reseed').click();
  await settled(page);
  expect((await tuftOf(page)).pinned).toEqual([pin]);
  await expectTexels(page, await grownHere(page));

  // it is marked, and selected in list and Sheet alike; touched again it stays, ground pins nothing, the list releases
  await expect(page.getByTestId('pin-mark')).toHaveClass(/on/);
  const inList = page.getByRole('button', { name: `Blade ${pin.blade + 1}: show its handles` });
  await expect(inList).toHaveAttribute('aria-pressed', 'true');
  await expectAccessible(page, 'a tuft with a pinned blade');
  const ground = await seenAt(page, 0.03, 0.04);
  await page.mouse.click(ground.x, ground.y);
  await expect(page.getByTestId('pin-mark')).not.toHaveClass(/on/);
  await expect(page.locator('[data-handle="blade tip"]')).toHaveCount(0);
  await inList.click();
  await page.locator('[data-handle="blade tip"]').focus();
  await page.keyboard.press('ArrowRight');
  await settled(page);
  const [turned] = (await tuftOf(page)).pinned;
  expect({ ...turned, turn: 0, stretch: 1 }).toEqual({ ...pin, turn: 0, stretch: 1 });
  expect(turned.turn).not.toBe(pin.turn);
  await page.keyboard.press('Control+z');

  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await settled(page);
  await page.reload();
  await settled(page);
  expect((await tuftOf(page)).pinned).toEqual([]);
  await expectTexels(page, await grownHere(page));

  await page.getByTestId('to-hand-off').click();
  await page.getByTestId('write').click();
  // whose checks compare every map with what the Bench shows
  await expect(page.getByTestId('verdict')).toContainText('passed', { timeout: 60_000 });
  await expect(page.getByText('root to tip as shown')).toHaveCount(1);
});

test('a weave is measured in millimetres, another pattern is chosen', async ({ page }) => {
  await grow(page, 'Crab net');
  await page.getByText('Size', { exact: true }).click();
  await typeNumber(page, 'Width, texels', '256');
  await typeNumber(page, 'Height, texels', '256');
  await choose(page, 'pattern', 'wattle');
  await typeNumber(page, 'Thickness, mm', '60');
  await settled(page);
  await expectTexels(page, await grownHere(page));
  await typeNumber(page, 'Card, across, mm', '800');
  await settled(page);
  expect((await docOf(page)).cardWidth).toBe(0.8);
  await typeNumber(page, 'Card, across, mm', '900');
  await page.locator('[data-handle="pitch"]').focus();
  await page.keyboard.press('ArrowRight');
  await settled(page);
  expect(((await sourcesOf(page))[0].recipe!.params as { pitch: number }).pitch).toBeCloseTo(64, 0);
  await expectTexels(page, await grownHere(page));
});

import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import { expectAccessible } from './axe.ts';
import { choose, choosePiece, chooseProfile, docOf, downloadZip, openLeaf, settled } from './helpers.ts';
import { test } from './test.ts';

test('a card as USD under names of one’s own: read as text, shown on the Stand’s card; levels in a KTX2; a folder kept current', async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-output-'));
  mkdirSync(join(folder, 'target'));
  try {
    await openLeaf(page);
    await settled(page);
    await page.getByTestId('to-hand-off').click();
    await chooseProfile(page, 'usd');
    const field = async (name: string, value: string) => {
      await page.getByTestId(name).fill(value);
      await page.getByTestId(name).press('Enter');
    };
    await field('pattern', '{piece}_{map}_{nothing}');
    await expect(page.getByText('holds {nothing}')).toBeVisible();
    await field('pattern', '{map}-{mode}');
    await field('name-material', 'M_{piece}');
    await expect(page.getByTestId('example-material')).toHaveText(/^M_/);
    await page.getByTestId('name-words').click();
    await field('word-mask', 'cut');
    await expect(page.getByTestId('written-0')).toContainText('card-cut.usda');
    await expect.poll(async () => (await docOf(page)).handOff.naming?.words?.mask).toBe('cut');
    const write = async () => {
      await page.getByTestId('write').click();
      await expect(page.getByTestId('agree')).toHaveText('1 of 1 targets agree', { timeout: 60_000 });
      await expect(page.locator('.targets.outdated')).toHaveCount(0, { timeout: 60_000 });
    };
    await write();
    await page.getByTestId('written-0').click();
    await expect(page.getByTestId('written-text')).toContainText('float inputs:opacityThreshold = 0.5');
    await expect(page.getByTestId('card-strict-usd')).toHaveJSProperty('naturalWidth', 160, { timeout: 60_000 });
    await expectAccessible(page, 'Hand-off of a scene');

    // a folder that a target watches
    await page.getByTestId('choose-output').click();
    await page.getByTestId('folder').fill(folder);
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'target/' }).click();
    await page.getByTestId('take-folder').click();
    await expect(page.getByTestId('output-state')).toContainText('current', { timeout: 60_000 });
    expect(readdirSync(join(folder, 'target')).sort()).toEqual(['base-cut.png', 'card-cut.usda']);
    await chooseProfile(page, 'dds-bc1');
    await page.getByTestId('container').getByText('KTX2', { exact: true }).click();
    await expect.poll(() => readdirSync(join(folder, 'target')), { timeout: 60_000 }).toEqual(['base-cut.ktx2']);
    await page.getByTestId('end-output').click();
    await expect(page.getByTestId('choose-output')).toBeVisible();

    // a map of another piece, for the channel of a file
    await chooseProfile(page, 'own-packing');
    await page.getByTestId('from-other-piece').locator('summary').click();
    await choose(page, 'other-map', 'height');
    await choose(page, 'other-as', 'translucency');
    await choosePiece(page, 'other-piece', 'Leaf with all its maps');
    await expect(page.getByTestId('drag-translucency')).toBeVisible({ timeout: 60_000 });
    await expect(page.getByTestId('packed-1').getByTestId('channel-R')).not.toContainText('does not make it');
    await expect(async () => {
      await page.getByRole('button', { name: /^Undo/ }).click(); // the slot, the source, the profile
      await expect(page.getByTestId('profile')).toContainText('Levels in the file', { timeout: 1000 });
    }).toPass();
    await expect(page.getByTestId('drag-translucency')).toHaveCount(0);

    await page.getByTestId('write').click();
    await expect(page.getByTestId('agree')).toHaveText('2 of 2 targets agree', { timeout: 60_000 });
    const { 'base-cut.ktx2': written } = await downloadZip(page);
    expect(Buffer.compare(written, readFileSync(join(folder, 'target', 'base-cut.ktx2')))).toBe(0);
  } finally {
    rmSync(folder, { recursive: true });
  }
});

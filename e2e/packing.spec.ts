import { expect, type Locator } from '@playwright/test';
import { packedRaster, readPng, toRgba8 } from '@lithe-sieve/core';
import { readTga } from '@lithe-sieve/core/testing';
import { drawLeafScan } from '@lithe-sieve/demo';
import { inflateSync } from 'node:zlib';
import { choose, chooseProfile, computed, docOf, downloadZip, openLeaf, settled, typeNumber } from './helpers.ts';
import { expectAccessible } from './axe.ts';
import { test } from './test.ts';

test('files packed by oneself: channels by lists, by keys and by dragging, names that clash, written as core packs them', async ({
  page,
}) => {
  await openLeaf(page);
  await page.getByTestId('material-tile').click();
  await page.getByTestId('slot-roughness').click();
  await choose(page, 'filled-by', 'another map');
  await settled(page);
  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'own-packing');
  const file = page.getByTestId('packed-1');
  const channel = (name: string) => file.getByTestId(`channel-${name}`);
  const hold = async (of: Locator, what: string) => {
    await of.getByTestId('holds').click();
    await page.getByRole('option', { name: what, exact: true }).click();
  };
  await expect(channel('R')).toContainText('The run does not make it'); // translucency
  await hold(channel('R'), 'picture');
  await channel('R').getByTestId('of-map').locator('input').focus();
  await page.keyboard.press('Enter');
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await channel('G').getByText('1 −').click();
  await channel('B').evaluate((e) => e.scrollIntoView({ block: 'center' })); // the maps stay in sight above it
  await page.getByTestId('drag-mask').dragTo(channel('B'));
  await hold(channel('A'), 'one value');
  await typeNumber(page, 'pack, A, value', '0.5');
  await file.getByText('16 bits').click();
  await file.getByText('½').click();
  const name = file.getByTestId('packed-name');
  await name.fill('base');
  await expect(file).toContainText('Another file has this name.');
  await name.fill('mrt');
  await name.press('Enter');
  await page.getByTestId('add-file').click();
  await expect(page.getByTestId('packed-2')).toBeVisible();
  await page.getByRole('button', { name: 'Delete file-3' }).click();
  await expectAccessible(page, 'files packed by oneself', '[data-test=packing]');
  const { handOff } = await docOf(page);
  expect(handOff.packing?.[1]).toMatchObject({
    name: 'mrt',
    bits: 16,
    halvings: 1,
    fills: [
      { map: 'colour', channel: 'green' },
      { map: 'roughness', inverted: true },
      { map: 'mask', inverted: false },
      { value: 0.5 },
    ],
  });
  await page.getByTestId('packed-0').getByText('TGA').click();
  await page.getByRole('button', { name: 'Write and check' }).click();
  await expect(page.getByTestId('verdict')).toHaveText('Every check passed', { timeout: 60_000 });
  const files = await downloadZip(page);
  const tga = readTga(files[Object.keys(files).find((n) => n.endsWith('_base.tga'))!]).raster;
  expect([tga.width, tga.channels]).toEqual([256, 4]);
  await expect(page.getByTestId('target-alpha-of-32-bits')).toHaveAttribute('data-agrees', 'true');
  const written = Object.keys(files).find((n) => n.endsWith('_mrt.png'))!;
  const inflate = (parts: Uint8Array[]) => Promise.resolve(new Uint8Array(inflateSync(Buffer.concat(parts))));
  const { raster } = await readPng(files[written], { inflate });
  const picture = toRgba8(drawLeafScan(31, 256).colour);
  const run = await computed(page, [{ id: 'source', sha256: 'x', picture }]);
  const wanted = packedRaster(handOff.packing![1], run, handOff);
  expect([raster.width, raster.channels]).toEqual([128, 4]);
  expect(Buffer.from(raster.data.buffer).equals(Buffer.from(wanted.data.buffer))).toBe(true);
});

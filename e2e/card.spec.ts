import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from '@playwright/test';
import {
  CARD_NORMALS,
  CARD_SIDES,
  cardOf,
  cardSurface,
  cutOutOf,
  outlineOfCard,
  readObj,
  standingMesh,
  toRgba8,
  uvMask,
} from '@lithe-sieve/core';
import { drawLeafScan, leafMeshObj } from '@lithe-sieve/demo';
import { glbTools } from '@lithe-sieve/host/glb';
import {
  choose,
  computed,
  decodePng,
  docOf,
  downloadZip,
  dropFiles,
  openLeaf,
  settled,
  steady,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

test('a card is folded, cut to an outline, crossed and backed: shown so, undone, handed off as core makes it', async ({
  page,
}) => {
  await page.goto('/');
  await openLeaf(page);
  await page.keyboard.press('Alt+d');
  const triangles = page.getByTestId('card-triangles');
  await expect(triangles).toHaveText('2 triangles');
  await choose(page, 'card-form', 'folded');
  await typeNumber(page, 'Fold, degrees', '55');
  const handle = page.getByTestId('form-handles').locator('[data-handle=fold]');
  await handle.press('ArrowUp'); // by five
  await expect(handle).toHaveAttribute('aria-valuenow', '60');
  const at = (await steady(() => handle.boundingBox()))!; // it follows the card
  await page.mouse.move(at.x + 6, at.y + 6);
  await page.mouse.down();
  await page.mouse.move(at.x - 44, at.y + 6, { steps: 3 });
  await expect(handle).toHaveAttribute('aria-valuenow', '90');
  await page.keyboard.press('Escape');
  await page.mouse.up();
  await expect(handle).toHaveAttribute('aria-valuenow', '60');
  await expect(triangles).not.toHaveText('2 triangles');
  await page.getByRole('switch', { name: 'Cut to an outline' }).press('Space');
  await expect(page.getByTestId('outline-figures')).toContainText('8 corners: ');
  await page.getByRole('button', { name: 'Take 12 corners' }).click();
  await expect(page.getByTestId('outline-figures')).toContainText('12 corners: ');
  await expect(page.getByTestId('outline-marks').locator('rect')).toHaveCount(12);

  // dragging the cutoff keeps the last outline until the next one is there
  const before = await page.getByTestId('outline-marks').locator('polygon').last().getAttribute('points');
  await page.getByTestId('cutoff-handle').focus();
  for (let i = 0; i < 12; i++) await page.keyboard.press('ArrowRight');
  await expect(page.getByTestId('outline-marks').locator('polygon').last()).not.toHaveAttribute('points', before!);

  await settled(page);
  await expect(page.getByTestId('outline-marks')).not.toHaveClass(/old/);

  // a corner stops before what is kept, by mouse; one more by keys
  const corner = page.getByTestId('outline-marks').locator('rect').first();
  const box = (await corner.boundingBox())!;
  const sheet = (await page.getByTestId('sheet').boundingBox())!;
  await page.mouse.move(box.x + 4, box.y + 4);
  await page.mouse.down();
  await page.mouse.move(sheet.x + sheet.width / 2, sheet.y + sheet.height / 2, { steps: 3 });
  await page.mouse.up();
  await expect(page.getByTestId('outline-by-hand')).toHaveText(
    'Set by hand: it stays when the mask changes. Fit it again',
  );
  await expect(page.getByTestId('outline-marks')).not.toHaveClass(/old/);
  await corner.press('Insert');
  await expect(page.getByTestId('outline-marks').locator('rect')).toHaveCount(13);
  await settled(page);

  await choose(page, 'card-set', 'star');
  const count = await triangles.innerText();
  await page.keyboard.press('Control+z');
  await expect(triangles).not.toHaveText(count);
  await page.keyboard.press('Control+Shift+z');
  await expect(triangles).toHaveText(count);

  // the cards stand along a line that is drawn over the ground; one of its places goes on by keys
  await choose(page, 'card-set', 'along a line');
  await page.getByTestId('draw-line').click();
  const stand = (await page.getByTestId('stand').boundingBox())!;
  const over = (across: number, down: number) =>
    page.mouse.move(stand.x + across * stand.width, stand.y + down * stand.height, { steps: 4 });
  await over(0.25, 0.85);
  await page.mouse.down();
  await over(0.5, 0.95);
  await over(0.8, 0.85);
  await page.mouse.up();
  await expect.poll(async () => (await docOf(page)).set?.line?.length).toBeGreaterThan(2);
  const drawn = (await docOf(page)).set!.line!;
  await page.getByTestId('line-marks').getByRole('button').first().press('ArrowLeft');
  await settled(page);
  const line = (await docOf(page)).set!.line!;
  expect(line.slice(1)).toEqual(drawn.slice(1));
  expect([line[0][0] < drawn[0][0], line[0][1]]).toEqual([true, drawn[0][1]]);

  await choose(page, 'card-sides', 'as geometry');
  await expect(triangles).toHaveText(`${2 * parseInt(count, 10)} triangles`);
  await choose(page, 'card-normals', 'away from the middle');
  await settled(page);

  const doc = await docOf(page);
  expect(doc.normals).toEqual(CARD_NORMALS);
  expect([doc.form?.kind, doc.form?.fold, doc.outline?.corners, doc.set?.kind]).toEqual([
    'folded',
    60,
    12,
    'along a line',
  ]);
  const [{ id, sha256 }] = doc.sources;
  const result = await computed(page, [{ id, sha256, picture: toRgba8(drawLeafScan(31, 256).colour) }]);
  const { mask } = result;
  const cutOut = cutOutOf(outlineOfCard(mask, doc.outline!, doc.material), mask);
  const { mesh: expected } = cardSurface({ ...cardOf(doc), cutOut }, mask);
  expect(expected.indices.length / 3).toBe(2 * parseInt(count, 10));
  expect([doc.sides, doc.material.doubleSided]).toEqual([CARD_SIDES, false]);
  await page.keyboard.press('h');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  const files = await downloadZip(page);
  const [, glb] = Object.entries(files).find(([name]) => name.endsWith('.glb'))!;
  const { mesh } = await glbTools.read(glb);
  for (const part of ['positions', 'normals', 'uvs', 'indices'] as const)
    expect([...mesh[part]]).toEqual([...expected[part]]);
});

test('a piece is laid on a mesh of one’s own, undone, handed off; a file that is none says so', async ({ page }) => {
  await page.goto('/');
  await openLeaf(page);
  await page.keyboard.press('Alt+d');
  const file = (name: string, text: string) => ({ name, mimeType: 'model/obj', buffer: Buffer.from(text) });
  const chooser = page.getByTestId('mesh-chooser');
  await chooser.setInputFiles(file('broken.obj', 'v 0 0 zero\n'));
  await expect(page.getByText('broken.obj: Line 1 of the OBJ has zero for a number.')).toBeVisible();
  await dropFiles(page, [{ name: 'leaf.obj', bytes: Buffer.from(leafMeshObj()) }]);
  await expect(page.getByTestId('mesh-facts')).toContainText('224 triangles');
  // its file on disk is followed: a save shows, and is undone
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-mesh-'));
  const path = join(folder, 'leaf.obj');
  writeFileSync(path, leafMeshObj());
  await page.getByTestId('follow-mesh').click();
  await page.getByTestId('folder').fill(folder);
  await page.getByTestId('allow').click();
  await page.getByTestId('follow-file').filter({ hasText: 'leaf.obj' }).click();
  await expect(page.getByTestId('followed')).toContainText(path);
  writeFileSync(path, `${leafMeshObj()}\nf 1/1 2/2 3/3\n`);
  await expect(page.getByTestId('follow-notice')).toContainText('It has 225 triangles now, it had 224.');
  await expect(page.getByTestId('card-triangles')).toHaveText('225 triangles');
  rmSync(folder, { recursive: true });
  await expect(page.getByTestId('follow-notice')).toContainText('The last good version stays');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('followed')).toContainText('is not there');
  await expect(page.getByTestId('card-triangles')).toHaveText('224 triangles');

  await choose(page, 'mesh-unit', 'centimetres');
  await choose(page, 'mesh-up', 'z');
  await expect(page.getByTestId('mesh-facts')).toContainText('0.120 × ');
  await expect(page.getByTestId('card-triangles')).toHaveText('224 triangles');

  // the middle of the Stand shows a texel of the leaf
  const box = (await page.getByTestId('stand').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByTestId('readout')).toContainText(/texel \d+, \d+/);

  // its UVs are the mask, and undone
  await page.getByTestId('uvs-mask').click();
  await expect
    .poll(async () => (await docOf(page)).run.map((s) => s.kind))
    .toEqual(['from-colour', 'from-channel', 'bleed']);
  await settled(page);
  const [, source] = (await docOf(page)).sources;
  expect(source).toMatchObject({ fileName: 'leaf uvs_mask.png', role: 'mask' });
  const uvs = await decodePng(await (await page.request.get(`/api/sources/${source.sha256}/bytes`)).body());
  const wraps = { across: 'clamp', down: 'clamp' } as const;
  expect(uvs.data).toEqual(uvMask(readObj(Buffer.from(leafMeshObj())), { width: 256, height: 256 }, wraps).data);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Alt+d');

  // laid on a face by a press, then dragged, turned by keys, and a number typed
  await page.getByTestId('lay-fit').click();
  await page.mouse.click(box.x + box.width / 2, box.y + box.height / 2);
  await expect(page.getByTestId('placement-marks')).toBeVisible();
  await page.getByTestId('lay-move').click();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 12, box.y + box.height / 2, { steps: 3 });
  await page.mouse.up();
  await page.getByTestId('lay-turn').click();
  await page.getByTestId('stand').focus();
  await page.keyboard.press('Escape');
  await expect(page.getByTestId('lay-turn')).toHaveAttribute('aria-pressed', 'false');
  await typeNumber(page, 'Turned, degrees', '20');
  await settled(page);
  const { mesh: own } = await docOf(page);
  expect(own!.placement).toMatchObject({ turn: 20 });

  await page.reload();
  await settled(page);
  await expect(page.getByTestId('card-triangles')).toHaveText('224 triangles');
  await page.keyboard.press('Alt+d');
  await page.getByTestId('leave-mesh').click();
  await expect(page.getByTestId('card-triangles')).toHaveText('2 triangles');
  await page.keyboard.press('Control+z');
  await expect(page.getByTestId('card-triangles')).toHaveText('224 triangles');
  await settled(page);
  await page.keyboard.press('h');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  const files = await downloadZip(page);
  const [, glb] = Object.entries(files).find(([name]) => name.endsWith('.glb'))!;
  const expected = standingMesh(readObj(Buffer.from(leafMeshObj())), own!).mesh;
  const { mesh } = await glbTools.read(glb);
  for (const part of ['positions', 'uvs', 'indices'] as const) expect([...mesh[part]]).toEqual([...expected[part]]);
});

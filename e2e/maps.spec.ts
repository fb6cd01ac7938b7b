import { expect, type Page } from '@playwright/test';
import {
  makePicture,
  makeStep,
  mapKind,
  readPng,
  toRgba8,
  type MapName,
  type PieceDoc,
  type RunSource,
  type StepEntry,
} from '@lithe-sieve/core';
import { drawLeafScan } from '@lithe-sieve/demo';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { inflateSync } from 'node:zlib';
import {
  addPiece,
  choose,
  choosePiece,
  chooseProfile,
  computed,
  docOf,
  downloadZip,
  dropFiles,
  expectTexels,
  openLeaf,
  openNew,
  pngFile,
  runOf,
  scribble,
  seenAt,
  settled,
  typeNumber,
} from './helpers.ts';
import { expectAccessible } from './axe.ts';
import { test } from './test.ts';

const scan = drawLeafScan(31, 256);
const picture = toRgba8(scan.colour);
const ONE: RunSource[] = [{ id: 'source', sha256: 'x', picture }];

const MAPS: StepEntry[] = [
  makeStep('height-1', 'height-from-picture', { detail: 2 }),
  makeStep('height-2', 'height-from-veins'),
  makeStep('normal-1', 'normal-from-height'),
  makeStep('rough-1', 'roughness'),
  makeStep('occl-1', 'occlusion'),
  makeStep('trans-1', 'translucency'),
  makeStep('tint-1', 'tint-id'),
];

/** What the Sheet reads out of a map, against core. */
async function expectMap(page: Page, map: MapName, sources = ONE): Promise<void> {
  await settled(page);
  const raster = (await computed(page, sources)).maps.get(map)!;
  const full = raster.data instanceof Uint8Array ? 255 : 65535;
  await choose(page, 'map-shown', mapKind(map).label);
  for (const [u, v] of [
    [0.5, 0.4],
    [0.44, 0.55],
    [0.1, 0.1],
  ]) {
    const { x, y } = await seenAt(page, u, v);
    const wanted = new RegExp(`texel (\\d+), (\\d+) +${mapKind(map).label} ([\\d. ]+?) +alpha`);
    const said = async () => {
      await page.mouse.move(x + 1, y);
      await page.mouse.move(x, y);
      return page.getByTestId('readout').innerText();
    };
    await expect.poll(said).toMatch(wanted); // the list may still lie over the Sheet
    const found = wanted.exec(await said());
    const at = raster.channels * (Number(found![2]) * raster.width + Number(found![1]));
    const values = Array.from(raster.data.subarray(at, at + raster.channels), (s) => (s / full).toFixed(4));
    expect(found![3]).toBe(values.join(' '));
  }
}

test('every map on the Sheet is core’s; a changed depth, undo and a reload follow', async ({ page }) => {
  await openNew(page, 'mapped_leaf.png', scan.colour, (run) => [...run, ...MAPS]);
  for (const map of ['normal', 'occlusion', 'tintId'] as const) await expectMap(page, map);
  const steep = async () => (await computed(page, ONE)).maps.get('normal')!.data;
  const before = await steep();
  await page.getByTestId('step-normal-from-height').locator('.face').click();
  await expect(page.getByTestId('map-histogram')).toContainText('16 bits, data');
  await typeNumber(page, 'Depth, mm', '12');
  await expectMap(page, 'normal');
  expect(Buffer.compare(Buffer.from((await steep()).buffer), Buffer.from(before.buffer))).not.toBe(0);
  await page.getByRole('button', { name: 'Undo' }).click();
  await page.reload();
  await expectMap(page, 'normal');
  await page.getByTestId('sheet').focus();
  await page.keyboard.press('5'); // the next map, by keys
  await expect(page.getByTestId('map-shown')).toContainText('roughness');
  await page.keyboard.press('6');
  await expect(page.getByTestId('map-look')).toContainText('over colour');
});

test('a map is made by keys and by mouse; without heights it says what is missing', async ({ page }) => {
  await openLeaf(page);
  await page.getByTestId('insert-maps').click();
  await page
    .getByRole('menuitem')
    .filter({ hasText: /^Normal: height/ })
    .click();
  await expect(page.getByTestId('step-error')).toContainText('There is no height map yet');
  await page.getByTestId('insert-maps').focus();
  await page.keyboard.press('Enter');
  await page.keyboard.type('pillow'); // at once: what comes before the field has the focus is not taken as shortcuts
  await page.keyboard.press('Enter');
  await settled(page);
  await page.getByTestId('step-height-from-edge').locator('.face').focus();
  await page.keyboard.press('Alt+ArrowLeft'); // before the normals
  await typeNumber(page, 'Width of the rise, texels', '20');
  await expectMap(page, 'height');
  await expectMap(page, 'normal');
});

test('maps are made again of a replaced picture, and of each save of one that is followed', async ({ page }) => {
  await openNew(page, 'changing_leaf.png', scan.colour, (run) => [...run, MAPS[0], MAPS[2]]);
  const folder = mkdtempSync(join(tmpdir(), 'lithe-sieve-maps-'));
  const leaf = async (seed: number) => {
    const { colour } = drawLeafScan(seed, 256);
    const file = await pngFile('followed.png', colour);
    return { file, sources: [{ id: 'source', sha256: `${seed}`, picture: toRgba8(colour) }] };
  };
  const [other, saved] = [await leaf(32), await leaf(33)];
  writeFileSync(join(folder, 'followed.png'), other.file.bytes);
  await page.getByTestId('source').first().click();
  await page.getByTestId('replace-chooser').setInputFiles(join(folder, 'followed.png'));
  await expect(page.getByTestId('source').first()).toHaveText(/followed/);
  await page.getByTestId('follow').click();
  await page.getByTestId('folder').fill(folder);
  await page.getByTestId('allow').click();
  await page.getByTestId('follow-file').filter({ hasText: 'followed.png' }).click();
  await expect(page.getByTestId('followed')).toContainText(folder);
  await page.getByTestId('step-normal-from-height').locator('.face').click();
  await expectMap(page, 'normal', other.sources);
  const before = (await docOf(page)).sources[0].sha256;
  writeFileSync(join(folder, 'followed.png'), saved.file.bytes);
  await expect.poll(async () => (await docOf(page)).sources[0].sha256).not.toBe(before);
  await expectMap(page, 'normal', saved.sources);
  rmSync(folder, { recursive: true });
});

test('heights raised by hand: shown while they are drawn, and as core draws them', async ({ page }) => {
  await openNew(page, 'hand_leaf.png', scan.colour, (run) => [...run, makeStep('hand-1', 'height-by-hand')]);
  await page.getByTestId('step-height-by-hand').locator('.face').click();
  await typeNumber(page, 'Diameter, texels', '30');
  await page.getByTestId('effect').getByText('raise').click();
  await scribble(page, [0.45, 0.4], [0.55, 0.4]);
  await expect(page.getByTestId('stroke-count')).toHaveText('1 stroke');
  await expectMap(page, 'height');
  const { maps } = await computed(page, ONE);
  expect(maps.get('height')!.data[102 * 256 + 128]).toBe(Math.round(32768 + 127 * ((65535 * 0.25) / 127)));
  await page.keyboard.press('Control+z');
  await settled(page);
  expect((await computed(page, ONE)).maps.size).toBe(0);
});

test('a ramp is dragged, a stop is picked from the Sheet, both as core colours it', async ({ page }) => {
  await openLeaf(page);
  await page.getByTestId('insert-colour').click();
  await page.getByRole('menuitem').filter({ hasText: /^Ramp/ }).click();
  await settled(page);
  const stopsOf = async () => (await runOf(page)).flatMap((s) => (s.kind === 'ramp' ? s.params.stops : []));
  const [handle, track] = [page.getByRole('slider', { name: 'Stop 2' }), page.getByTestId('ramp').locator('.track')];
  const box = (await track.boundingBox())!;
  await handle.hover();
  await page.mouse.down();
  await page.mouse.move(box.x + 0.3 * box.width, box.y + 20, { steps: 4 });
  await page.mouse.up();
  await settled(page);
  expect(Math.abs((await stopsOf())[1].at - 0.3)).toBeLessThan(0.02);
  await handle.press('ArrowRight');
  await settled(page);
  expect(Math.abs((await stopsOf())[1].at - 0.31)).toBeLessThan(0.02);
  await page.getByTestId('pick-stop').click();
  const { x, y } = await seenAt(page, 0.5, 0.3);
  await page.mouse.click(x, y);
  await settled(page);
  const [r, g, b] = (await stopsOf())[1].colour;
  expect(g).toBeGreaterThan(Math.max(r, b)); // the blade is green
  await page.keyboard.press('Escape');
  await expectTexels(page, ONE);
});

test('a drop of named files is agreed to once, each file comes to its map, and all are handed off', async ({
  page,
}) => {
  const grey = (of: (i: number) => number) =>
    makePicture(
      256,
      256,
      Uint8Array.from({ length: 262144 }, (_, i) => (i % 4 === 3 ? 255 : of(i >> 2))),
    );
  const up = makePicture(
    256,
    256,
    Uint8Array.from({ length: 262144 }, (_, i) => [140, 160, 250, 255][i % 4]),
  );
  await page.goto('/');
  await dropFiles(page, [
    await pngFile(
      'reed_rough.png',
      makePicture(128, 192, new Uint8Array(4 * 128 * 192).fill(255)), // of another shape
    ),
    await pngFile('other.png', scan.colour),
    await pngFile('reed_colour.png', scan.colour),
    await pngFile('reed_nor.png', up),
    await pngFile(
      'reed_x.png',
      grey((i) => i >> 8),
    ),
  ]);
  await expect(page.getByTestId('named-piece')).toHaveCount(3);
  const rowOf = (file: string) => page.locator('.row', { hasText: file });
  await expect(page.locator('.row img')).toHaveCount(5);
  await expectAccessible(page, 'named files', '.el-dialog');
  await expect(rowOf('reed_nor.png')).toContainText('256 × 256');
  await expect(rowOf('reed_rough.png')).toContainText('128 × 192, not as the colour');
  await rowOf('reed_x.png').locator('.grip').hover(); // once the dialog lies still
  const [from, to] = [await rowOf('reed_x.png').boundingBox(), await rowOf('reed_nor.png').boundingBox()];
  await page.mouse.down();
  await page.mouse.move(from!.x + 12, from!.y + 8, { steps: 3 });
  await page.mouse.move(to!.x + 40, to!.y + to!.height - 4, { steps: 40 }); // as fast as a hand
  await expect(page.locator('.list', { has: rowOf('reed_nor.png') })).toContainText('reed_x.png'); // it lies there now
  await page.mouse.up();
  await expect(page.getByTestId('named-piece')).toHaveCount(2);
  await page.getByRole('combobox', { name: 'What reed_x.png is' }).click({ force: true });
  await page.getByRole('option', { name: 'height' }).last().click();
  await page.getByTestId('one-piece').click();
  await page.getByRole('link', { name: 'Open Reed' }).click();
  await settled(page);
  const doc: PieceDoc = await docOf(page);
  expect(doc.sources.map((s) => s.role)).toEqual(['colour', 'roughness', 'normal', 'height']);
  const kinds = doc.run.map((s) => s.kind);
  expect(kinds.slice(-3)).toEqual(['roughness', 'normal-from-picture', 'height-from-picture']);
  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'all-maps');
  await page.getByTestId('green').getByText('down (DirectX)').click();
  await expect(page.getByTestId('left-out')).toContainText('metalness');
  await page.getByRole('button', { name: 'Write and check' }).click();
  await expect(page.getByTestId('verdict')).toHaveText('Every check passed', { timeout: 60_000 });
  const files = await downloadZip(page);
  const names = Object.keys(files).filter((n) => n.endsWith('.png'));
  expect(names.sort()).toEqual(['Reed_base.png', 'Reed_height.png', 'Reed_normal.png', 'Reed_roughness.png']);
  const inflate = (parts: Uint8Array[]) => Promise.resolve(new Uint8Array(inflateSync(Buffer.concat(parts))));
  const { raster } = await readPng(files['Reed_normal.png'], { inflate });
  expect([raster.channels, raster.data[1] < 32768, raster.data[0] > 32768]).toEqual([3, true, true]);
});

test('one mask fills several slots of the material with readings of its own; another piece fills one more', async ({
  page,
}) => {
  await addPiece(page, 'Old wall', drawLeafScan(7, 200).colour);
  await openLeaf(page);
  await page.getByTestId('material-tile').click();
  const fill = async (slot: string, by: string) => {
    const row = page.getByTestId(`slot-${slot}`);
    await row.focus();
    await page.keyboard.press('Enter');
    await choose(page, 'filled-by', by);
    return row;
  };
  await expect(await fill('roughness', 'another map')).toContainText('mask');
  await typeNumber(page, 'Offset', '-0.2');
  await expect(await fill('metalness', 'another map')).toContainText('mask');
  await page.getByText('Inverted').click();
  await fill('emission', 'one colour');
  await typeNumber(page, 'Strength', '3');
  await fill('colour', 'one colour');
  await page.getByTestId('slot-specular').click();
  await choose(page, 'wanted-map', 'picture');
  await choosePiece(page, 'slot-piece', 'Old wall');
  await expect(page.getByTestId('slot-specular')).toContainText('Old wall, picture.png');
  await expectAccessible(page, 'Slots of the material');
  await settled(page);
  await page.getByTestId('slot-mask').click();
  await choose(page, 'polarity', 'transparency');
  await expect.poll(async () => (await runOf(page)).some((s) => s.kind === 'invert')).toBe(true); // saved a moment later
  const { run, material } = await docOf(page);
  const paramsOf = (kind: string) => run.findLast((s) => s.kind === kind)?.params;
  expect(paramsOf('roughness')).toMatchObject({ from: 'another map', map: 'mask', inverted: false, offset: -0.2 });
  expect(paramsOf('metalness')).toMatchObject({ from: 'another map', map: 'mask', inverted: true });
  expect(paramsOf('specular')).toMatchObject({ from: 'channel', fit: 'scale' });
  // the maps' own bleed and the colour's come after what they bleed
  const kinds = run.map((s) => s.kind);
  expect(kinds.indexOf('other-colour')).toBeLessThan(kinds.indexOf('bleed'));
  expect(material.emission).toBe(3);
  await page.keyboard.press('Control+z');
  await expect.poll(async () => (await runOf(page)).some((s) => s.kind === 'invert')).toBe(false);
});

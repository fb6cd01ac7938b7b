import { expect, type Page } from '@playwright/test';
import {
  allocateHeap,
  atlasRegions,
  grownPiece,
  growRecipe,
  makeRecipe,
  makeStep,
  partFiles,
  toRgba8,
  type AtlasParams,
  type PieceDoc,
  type Raster,
  type Recipe,
  type RegionsFile,
  type RunSource,
} from '@lithe-sieve/core/testing';
import {
  ask,
  choosePiece,
  decodePng,
  docOf,
  downloadZip,
  expectTexels,
  openNew,
  settled,
  sourcesOf,
  typeNumber,
} from './helpers.ts';
import { test } from './test.ts';

let made = 0;
const makeId = () => `atlas-test-${String(made++).padStart(4, '0')}`;

/** A piece that is grown, in the Stock. */
async function stock(page: Page, name: string, recipe: Recipe): Promise<void> {
  const doc = grownPiece({ name, recipe, cardWidth: 0.1 }, makeId);
  await ask(page, 'post', '/api/pieces/copies', { doc });
}

/** What the atlas is made of, and the atlas as core grows it here. */
async function grownHere(page: Page) {
  const [{ id, sha256, recipe }] = await sourcesOf(page);
  const files = new Map<string, Raster>();
  for (const part of partFiles(recipe!)) {
    const answer = await page.request.get(`/api/sources/${part.sha256}/bytes`);
    files.set(part.sha256, await decodePng(new Uint8Array(await answer.body())));
  }
  const pictureOf = (part: string) => toRgba8(files.get(part)!);
  const reliefOf = (part: string) => files.get(part) as unknown as Raster<Uint16Array>;
  const bands = (height: number, rows: (y0: number, y1: number) => void) => rows(0, height);
  const grown = growRecipe(recipe!, { scale: 1, allocate: allocateHeap, bands }, { pictureOf, reliefOf });
  return { recipe: recipe!, pictureOf, sources: [{ id, sha256, ...grown }] satisfies RunSource[] };
}

const placedOf = async (page: Page) => ((await sourcesOf(page))[0].recipe!.params as AtlasParams).placed;
const packed = (page: Page, count: number) => expect.poll(async () => (await placedOf(page)).length).toBe(count);

test('an atlas is packed of a piece and three variations of another, keeps places, is shaped by hand and handed off', async ({
  page,
}) => {
  const leaf = { blades: 1, fromX: 0.5, toX: 0.5, bladeWidth: 0.2, envelope: [0.8], torn: 0 };
  await stock(page, 'Bent leaf', makeRecipe('tuft', { width: 128, height: 128, seed: 3, ...leaf }));
  await stock(page, 'Small spray', makeRecipe('spray', { width: 128, height: 256 }));
  await page.goto('/');
  await page.getByTestId('grow').click();
  await page.getByTestId('gallery').getByRole('button', { name: 'Atlas' }).click();
  await page.waitForURL(/bench/);
  await expect(page.getByTestId('no-parts')).toBeVisible();
  await page.getByText('Size', { exact: true }).click();
  await typeNumber(page, 'Width, texels', '256');
  await typeNumber(page, 'Height, texels', '256');

  await choosePiece(page, 'atlas-piece', 'Bent leaf');
  await packed(page, 1);
  await typeNumber(page, 'Variations of it', '3');
  await choosePiece(page, 'atlas-piece', 'Small spray');
  await packed(page, 4);
  await expect(page.getByTestId('packing')).toContainText('boxes would use');
  await settled(page);
  const { recipe, sources, pictureOf } = await grownHere(page);
  expect(recipe.parts!.map((p) => p.name)).toEqual(['Bent leaf', 'Small spray 1', 'Small spray 2', 'Small spray 3']);
  expect(new Set(recipe.parts!.map((p) => p.sha256)).size).toBe(4);
  await expectTexels(page, sources);

  // what is kept stays; copies of it find their places beside it, or the page says that there is no room
  const before = await placedOf(page);
  await page.getByTestId('keep-places').click();
  await typeNumber(page, 'Weight of Bent leaf', '0.1');
  await expect.poll(async () => (await placedOf(page))[0].tall).toBeLessThan(before[0].tall);
  expect((await placedOf(page)).slice(1)).toEqual(before.slice(1));
  await typeNumber(page, 'Weight of Bent leaf', '9');
  await expect(page.getByText('There is no room')).toBeVisible();
  await page.keyboard.press('Control+z');
  await packed(page, 4);

  const tip = page.locator('[data-handle="part 1"]');
  await tip.focus();
  await page.keyboard.press('ArrowRight');
  await settled(page);
  expect((await placedOf(page))[1].x).toBeCloseTo(before[1].x + 0.01, 3);
  await page.reload();
  await settled(page);
  await expectTexels(page, (await grownHere(page)).sources);

  await page.getByTestId('to-hand-off').click();
  await expect(page.getByText('UV rectangle and outline of each part')).toBeVisible();
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('passed', { timeout: 60_000 });
  const files = await downloadZip(page);
  const name = Object.keys(files).find((file) => file.endsWith('.json'))!;
  const said = JSON.parse(Buffer.from(files[name]).toString()) as RegionsFile;
  expect(said).toMatchObject({ atlas: 'Atlas', width: 256, height: 256, origin: 'top left' });
  expect(said.regions).toEqual(atlasRegions((await sourcesOf(page))[0].recipe!, pictureOf));
});

test('a piece is cut by the holes of another at their size in millimetres, and offers its newer revision', async ({
  page,
}) => {
  const net = { pattern: 'wire cloth', across: 100, pitch: 25, thick: 9, uneven: 0, seamless: true } as const;
  await stock(page, 'Net to cut by', makeRecipe('weave', { width: 128, height: 128, ...net }));
  await openNew(
    page,
    'cloth.png',
    { width: 128, height: 128, channels: 3, data: new Uint8Array(3 * 128 * 128).fill(90) },
    () => [
      makeStep('whole-card', 'from-channel', { channel: 'luminance' }),
      makeStep('white-card', 'levels', { white: 0.2 }),
      makeStep('cut-it', 'cut-by-piece'),
    ],
  );
  await page.getByTestId('step-cut-by-piece').locator('.face').click();
  await choosePiece(page, 'cut-by', 'Net to cut by');
  await expect(page.getByTestId('cut-newest')).toBeVisible();
  // the card is 500 mm wide, the net 100: five times its 4 × 4 holes each way
  const share = 1 - (16 / 25) ** 2;
  const kept = async () => Number.parseFloat(await page.getByTestId('kept').innerText()) / 100;
  await expect.poll(kept).toBeCloseTo(share, 1);

  const { pieces } = await ask<{ pieces: { id: string; name: string }[] }>(page, 'get', '/api/pieces');
  const { id } = pieces.find((p) => p.name === 'Net to cut by')!;
  const { doc, revision } = await ask<{ doc: PieceDoc; revision: number }>(page, 'get', `/api/pieces/${id}`);
  const renamed = (value: string) => [{ op: 'replace', path: ['name'], value }];
  const entry = { label: 'Rename', patches: renamed('Finer net'), inverse: renamed(doc.name) };
  await ask(page, 'post', `/api/pieces/${id}/edits`, { kind: 'do', baseRevision: revision, entry });
  await page.reload();
  await page.getByTestId('step-cut-by-piece').locator('.face').click();
  await page.getByTestId('cut-newer').getByRole('button').click();
  await expect(page.getByTestId('cut-newest')).toBeVisible();
  await settled(page);
  const { run, sources } = await docOf(page);
  expect(run.at(-1)!.params).toMatchObject({ across: 100, repeats: true, of: { piece: id, name: 'Finer net' } });
  expect(sources).toHaveLength(2); // the newer copy took the place of the older
  await expect.poll(kept).toBeCloseTo(share, 1);
});

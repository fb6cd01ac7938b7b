import { expect, type Page } from '@playwright/test';
import {
  blurValues,
  drawClip,
  fringeOf,
  makeLevels,
  makeMask,
  makePicture,
  maskMips,
  methodFigures,
  METHODS,
  readDdsLevels,
  toRgba8,
  whatBreaks,
  type Mask,
  type Picture,
} from '@lithe-sieve/core/testing';
import { drawShape, net } from '../packages/core/test/helpers/webs.ts';
import { choose, chooseProfile, docOf, downloadZip, openNew, pngFile, runOf, settled } from './helpers.ts';
import { test } from './test.ts';

const SIDE = 256;
const mask = drawShape(net(23, 3), SIDE, SIDE);
const asPicture = (of: Mask): Picture =>
  makePicture(
    of.width,
    of.height,
    Uint8Array.from({ length: 4 * of.data.length }, (_, i) => [150, 140 + ((i >> 2) % 50), 90, of.data[i >> 2]][i % 4]),
  );
const picture = asPicture(mask);
const CLIP = { mode: 'mask' as const, cutoff: 0.5, opacity: 1 };

/** Width and coverage of every level from 0 on, as the ladder shows them. */
const rungs = (page: Page) =>
  page
    .getByTestId('ladder')
    .locator('li')
    .evaluateAll((list) => list.map((li) => (li as HTMLElement).innerText.split(/\s+/).slice(0, 2).join(' ')));
const covered = ({ width, data }: Mask) =>
  `${width} ${((100 * data.reduce((sum, v) => sum + v, 0)) / 255 / data.length).toFixed(1)}`;
const clipped = (level: Mask) => drawClip(level, CLIP, { by: 'hard', samples: 4 });

test('what breaks is listed by level, marked and shown close up, as computed here', async ({ page }) => {
  await openNew(page, 'net.png', picture);
  await page.keyboard.press('Alt+w');
  const breaks = whatBreaks([mask, ...maskMips(mask)], 128);
  const table = page.getByTestId('breaks').locator('tbody tr');
  await expect(table).toHaveCount(breaks.length);
  const shown = await table.evaluateAll((rows) =>
    rows.map((r) => [...r.children].map((c) => (c as HTMLElement).innerText)),
  );
  for (const [i, { width, counts }] of breaks.entries()) {
    const numbers = ['comes apart', 'vanishes', 'loses its end'].map((k) =>
      String(counts[k as keyof typeof counts] || '–'),
    );
    expect([shown[i][0], ...shown[i].slice(2, 5)]).toEqual([String(width), ...numbers]);
    expect(shown[i][1]).toMatch(/ m$/);
  }
  const worst = breaks.find((b) => b.share > 0.01)!;
  await expect(page.getByTestId('break-list').locator('li')).toHaveCount(worst.worst.length);
  await expect(page.getByTestId('texel-marks')).toBeVisible();
  const zoom = () =>
    page
      .getByTestId('sheet')
      .getByText(/^\d+ %$/)
      .innerText();
  const before = await zoom();
  await page.keyboard.press('n');
  await expect.poll(zoom).not.toBe(before);
  await page.keyboard.press('Alt+ArrowDown');
  await expect(page.getByTestId('breaks').locator('tr.on th')).toHaveText(String(worst.width / 2));
  await page.getByTestId('material-tile').click();
  await expect(page.getByTestId('texel-marks')).toHaveCount(0);
});

test('a soft edge is measured, and hardened around the cutoff', async ({ page }) => {
  const env = {
    allocate: (n: number) => new Uint8Array(n),
    bands: (h: number, f: (a: number, b: number) => void) => f(0, h),
  };
  const soft = makeMask(
    SIDE,
    SIDE,
    Uint8Array.from(blurValues(drawShape(net(90, 40), SIDE, SIDE), 4, env), Math.round),
  );
  await openNew(page, 'soft.png', asPicture(soft));
  await page.getByTestId('material-tile').click();
  const { width } = fringeOf(soft, 128)!;
  expect(width).toBeGreaterThan(6);
  await expect(page.getByTestId('fringe')).toContainText(`soft, ${width.toFixed(1)} texels wide`);
  const coverage = (await rungs(page))[0];
  await page.getByTestId('harden').click();
  await expect(page.getByTestId('fringe')).not.toContainText('soft');
  expect((await runOf(page)).find((s) => s.kind === 'harden-edge')).toMatchObject({
    params: { width: 1.5, cutoff: 0.5 },
  });
  expect((await rungs(page))[0]).toBe(coverage);
});

test('the clip drawn hashed, dithered and by samples: the ladder as the reference pictures, and all ways to make levels', async ({
  page,
}) => {
  await openNew(page, 'net.png', picture);
  await page.getByTestId('material-tile').click();
  const stand = async () => (await page.getByTestId('stand').screenshot()).toString('base64');
  const pictures = [await stand()];
  const levels = [mask, ...maskMips(mask)];
  for (const [by, label] of [
    ['hashed', 'hashed'],
    ['ordered', 'ordered dither'],
    ['coverage', 'alpha to coverage'],
  ] as const) {
    await choose(page, 'drawn', label);
    await expect.poll(() => rungs(page)).toEqual(levels.map((l) => covered(drawClip(l, CLIP, { by, samples: 4 }))));
    await expect.poll(async () => pictures.includes(await stand())).toBe(false); // on the Stand too
    pictures.push(await stand());
  }
  expect((await docOf(page)).drawn).toEqual({ by: 'coverage', samples: 4 });
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await expect.poll(() => rungs(page)).toEqual(levels.map((l) => covered(clipped(l))));

  await page.getByTestId('levels-tile').click();
  await page.getByTestId('compare-methods').click();
  const row = page.getByTestId('method-figures').locator('tbody tr');
  await expect(row).toHaveCount(METHODS.length);
  const { levels: settings } = await docOf(page);
  for (const [i, method] of METHODS.entries()) {
    const { drift, localError, sampledError, silhouetteError } = methodFigures(mask, CLIP, settings, method)!;
    const cells = row.nth(i).locator('td');
    await expect(cells).toHaveText(
      [drift, localError, sampledError, silhouetteError].map((share) => (100 * share).toFixed(1)),
    );
  }
});

test('levels of our own: one from a source, one painted, travel in a DDS whose blocks turn no texel', async ({
  page,
}) => {
  await openNew(page, 'net.png', picture);
  const far = asPicture(
    makeMask(
      32,
      32,
      Uint8Array.from({ length: 1024 }, (_, i) => (i % 3 === 0 ? 255 : 0)),
    ),
  );
  const [chooser] = await Promise.all([
    page.waitForEvent('filechooser'),
    page.getByRole('button', { name: 'Add a source' }).click(),
  ]);
  const { name, bytes } = await pngFile('far.png', far);
  await chooser.setFiles([{ name, mimeType: 'image/png', buffer: Buffer.from(bytes) }]);
  await expect(page.getByTestId('source')).toHaveCount(2);
  await page.getByTestId('levels-tile').click();
  await page.getByTestId('made-by').getByText('Lithe Sieve').click();
  await expect(page.getByTestId('snag-no-room-for-levels')).toBeVisible();
  await page.getByTestId('snag-no-room-for-levels').getByRole('button').click();
  await expect(page.getByTestId('snag-no-room-for-levels')).toHaveCount(0);

  await choose(page, 'one-level-choice', '32 × 32');
  await choose(page, 'one-level-source', 'far.png');
  await choose(page, 'one-level-choice', '64 × 64');
  await page.getByTestId('paint-level').click();
  const paint = page.getByTestId('level-paint');
  const box = (await paint.boundingBox())!;
  await page.mouse.move(box.x + 0.4 * box.width, box.y + 0.5 * box.height);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.6 * box.width, box.y + 0.55 * box.height, { steps: 4 });
  await page.mouse.up();
  await expect(page.getByTestId('painted-texels')).toBeVisible();
  await paint.focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Space');
  await page.keyboard.press('Escape');
  await expect(paint).toHaveCount(0);
  await settled(page); // the key's texel too is in the document

  const { levels: settings, material, sources: kept } = await docOf(page);
  expect(settings.painted[0].kept.length).toBeGreaterThan(0);
  const sources = new Map(kept.map((s) => [s.id, s.fileName === 'far.png' ? far : picture]));
  const made = makeLevels(mask, material, settings, { sourceOf: (id) => sources.get(id) ?? null }).levels;
  expect(made[3].data).toEqual(Uint8Array.from(far.data.filter((_, i) => i % 4 === 3)));
  await expect.poll(() => rungs(page)).toEqual(made.map((l) => covered(clipped(l))));

  await page.getByTestId('to-hand-off').click();
  await chooseProfile(page, 'dds-bc1');
  await page.getByTestId('effort').getByText('fine').click();
  await expect.poll(async () => (await docOf(page)).handOff.effort).toBe('fine');
  await page.getByTestId('write').click();
  await expect(page.getByTestId('verdict')).toContainText('Every check passed', { timeout: 30_000 });
  const { format, levels } = readDdsLevels((await downloadZip(page))['net_base.dds']);
  expect([format, levels.length]).toEqual(['BC1', made.length]);
  for (const [i, level] of levels.entries()) {
    const { data } = toRgba8(level);
    expect(made[i].data.findIndex((v, t) => v >= 128 !== data[4 * t + 3] >= 128)).toBe(-1);
  }
});

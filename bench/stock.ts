// Listing a Stock of 500 and of 5,000 pieces: the first time, while pictures are computed behind it, and after.
import { drawLeafScan } from '@lithe-sieve/demo';
import { chromium } from '@playwright/test';
import sharp from 'sharp';
import { CHROMIUM_ARGS } from '../e2e/chromium.ts';
import { Studio } from '../torture/studio.ts';

const studio = new Studio();
await studio.start();
const { data } = drawLeafScan(3, 256).colour;
const png = await sharp(data, { raw: { width: 256, height: 256, channels: 3 } })
  .png()
  .toBuffer();
const { sha256 } = (await studio.bringIn(png)).json as { sha256: string };
const first = await studio.newPiece('Piece 0', sha256);
const { doc } = (await studio.get(`/pieces/${first}`)).json as { doc: object };
let made = 1;

async function upTo(count: number): Promise<void> {
  for (; made < count; made++) {
    await studio.call('POST', '/api/pieces/copies', { doc: { ...doc, name: `Piece ${made}` } });
  }
}

/** Milliseconds of a list of the first sixty, of the last ones, and of a search: the slowest of ten. */
async function measure(says: string): Promise<Record<string, string>> {
  const slowest = async (path: string) => {
    let most = 0;
    for (let i = 0; i < 10; i++) {
      const started = performance.now();
      await studio.get(path);
      most = Math.max(most, performance.now() - started);
    }
    return `${Math.round(most)} ms`;
  };
  return {
    pieces: `${made}, ${says}`,
    'first 60': await slowest('/pieces'),
    'last 60': await slowest(`/pieces?from=${made - 60}`),
    search: await slowest('/pieces?search=piece+12'),
  };
}

const rows = [];
for (const count of [500, 5000]) {
  await upTo(count);
  rows.push(await measure('pictures being computed'));
  await new Promise((resolve) => setTimeout(resolve, 30_000));
  rows.push(await measure('half a minute later'));
}
console.log('\nStock: slowest of ten lists');
console.table(rows);

const browser = await chromium.launch({
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: CHROMIUM_ARGS,
});
const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
const opened = performance.now();
await page.goto(studio.address);
await page.locator('.grid article').first().waitFor();
const shown = performance.now() - opened;
const frames = await page.evaluate(async () => {
  const scroller = document.querySelector<HTMLElement>('[data-scrolls]')!;
  const gaps: number[] = [];
  let last = performance.now();
  for (let i = 0; i < 180; i++) {
    scroller.scrollTop += 120;
    await new Promise((resolve) => requestAnimationFrame(resolve));
    gaps.push(performance.now() - last);
    last = performance.now();
  }
  gaps.sort((a, b) => a - b);
  return { median: gaps[90], worst: gaps[179], cards: document.querySelectorAll('.grid li').length };
});
console.log(
  `Stock of ${made} in the browser: first card after ${Math.round(shown)} ms; scrolling by 120 pixels a frame: a`,
);
console.log(
  `frame every ${frames.median.toFixed(0)} ms, the worst ${frames.worst.toFixed(0)} ms; ${frames.cards} cards in the page`,
);
await browser.close();
await studio.stop();
studio.remove();

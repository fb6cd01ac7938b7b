import { drawCordgrass, drawLeafScan } from '@lithe-sieve/demo';
import { chromium, selectors, type Page } from '@playwright/test';
import sharp from 'sharp';
import { CHROMIUM_ARGS } from '../e2e/chromium.ts';
import { Studio } from './studio.ts';
import { Chance, times, type Extent, type Trial } from './trial.ts';

const KEYS = [
  'x',
  't',
  'm',
  ',',
  '.',
  'ArrowRight',
  'ArrowLeft',
  'Alt+ArrowRight',
  'Control+z',
  'Control+Shift+z',
  'Enter',
  'Escape',
  'Delete',
  'd',
  'e',
  'Tab',
  'f',
  'r',
  'n',
  'p',
  'q',
];
const TYPED = ['', '0', '1', '0.37', '-5', '99999', '0.5', '1e3'];
const SETTLE_MS = 60_000;
/** Of one round. */
const ACTS = 150;
const ACTS_SHORT = 60;

/**
 * Hands at random on the Bench: presses, drags, keys and typed values, while the server fails now and then (500, no
 * answer, killed and started again). At the end page and server must agree, whatever was said in between.
 */
export async function randomHands(extent: Extent): Promise<Trial> {
  const trial: Trial = {
    what: 'random hands on the Bench while the server fails',
    tries: 0,
    lost: 0,
    hangs: 0,
    errors: 0,
    seen: '',
  };
  const chance = new Chance(extent.seed + 8);
  const studio = new Studio();
  await studio.start();
  for (const [name, { colour }] of [
    ['Leaf', drawLeafScan(3, 256)],
    ['Grass', drawCordgrass(3, 256)],
  ] as const) {
    const { width, height, channels, data } = colour;
    const png = await sharp(data, { raw: { width, height, channels } }).png().toBuffer();
    await studio.newPiece(name, (await studio.bringIn(png)).json.sha256 as string);
  }
  selectors.setTestIdAttribute('data-test');
  const browser = await chromium.launch({
    executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
    args: CHROMIUM_ARGS,
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  const thrown: string[] = [];
  page.on('pageerror', (error) => thrown.push(error.message));
  page.on('console', (said) => {
    if (said.type() === 'error' && !said.text().startsWith('Failed to load resource')) thrown.push(said.text());
  });
  page.on('dialog', (dialog) => void dialog.accept());
  const { pieces } = (await studio.get('/pieces')).json as { pieces: { id: string }[] };
  let faults = 0;
  for (let round = 0; round < times(12, extent); round++) {
    const { id } = chance.of(pieces);
    await page.goto(`${studio.address}/bench/${id}`);
    await page.getByTestId('ladder').locator('li').first().waitFor();
    let failing = 0;
    await page.route(/\/api\/pieces\//, async (route) => {
      if (route.request().method() !== 'POST' || chance.next() >= failing) return route.continue();
      faults++;
      if (chance.next() < 0.5)
        await route.fulfill({ status: 500, json: { code: 'internal', message: 'It failed.', remedy: '' } });
      else await route.abort();
    });
    for (let i = 0; i < (extent.share < 1 ? ACTS_SHORT : ACTS); i++) {
      if (i % 30 === 10) failing = chance.next() * 0.9;
      if (i % 30 === 25) failing = 0;
      await act(page, chance);
      trial.tries++;
    }
    failing = 0;
    if (!(await agree(page, studio, id))) trial.lost++;
    await page.unroute(/\/api\/pieces\//);
  }
  await browser.close();
  await studio.stop();
  studio.remove();
  trial.errors = thrown.length;
  trial.seen = `${faults} answers failed on the way; ${thrown.length} errors thrown in the page${thrown[0] ? `, the first: ${thrown[0]}` : ''}`;
  return trial;
}

async function act(page: Page, chance: Chance): Promise<void> {
  const place = { x: 10 + chance.below(1250), y: 60 + chance.below(730) };
  const kind = chance.next();
  if (kind < 0.4) {
    await page.mouse.click(place.x, place.y);
  } else if (kind < 0.55) {
    await page.mouse.move(place.x, place.y);
    await page.mouse.down();
    await page.mouse.move(10 + chance.below(1250), 60 + chance.below(730), { steps: 4 });
    await page.mouse.up();
  } else if (kind < 0.8) await page.keyboard.press(chance.of(KEYS));
  else {
    const fields = page.getByRole('spinbutton');
    const count = await fields.count();
    if (count === 0) return;
    const field = fields.nth(chance.below(count));
    await field.fill(chance.of(TYPED), { timeout: 500, force: true }).catch(() => undefined);
    await page.keyboard.press(chance.of(['Enter', 'Tab']));
  }
  // an open file dialogue or a link may have led away
  if (!page.url().includes('/bench/')) await page.goBack().catch(() => undefined);
}

/** What the page shows of the document is what the server has, once everything went through. */
async function agree(page: Page, studio: Studio, id: string): Promise<boolean> {
  const until = Date.now() + SETTLE_MS;
  await page.keyboard.press('Escape');
  while (Date.now() < until) {
    const said = await page
      .getByTestId('save-state')
      .textContent()
      .catch(() => null);
    if (said?.trim() === 'saved') break;
    await page
      .getByTestId('try-now')
      .click({ timeout: 200 })
      .catch(() => undefined);
    await page.waitForTimeout(200);
  }
  const shown = await page.getByTestId('cutoff-handle').getAttribute('aria-valuenow');
  const tiles = await page
    .locator('.tiles [data-id]')
    .evaluateAll((list) => list.map((e) => `${(e as HTMLElement).dataset['id']} ${!e.classList.contains('off')}`));
  const { json } = await studio.get(`/pieces/${page.url().split('/').pop() ?? id}`);
  const { material, run } = json.doc as { material: { cutoff: number }; run: { id: string; on: boolean }[] };
  const same = tiles.join() === run.map((s) => `${s.id} ${s.on}`).join() && Number(shown) === material.cutoff;
  if (!same) console.log('page and server differ', { shown, tiles, material, run: run.map((s) => [s.id, s.on]) });
  return same;
}

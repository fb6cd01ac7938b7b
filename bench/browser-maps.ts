// Maps and fit in the built application in Chromium, at 4096²: how soon a drag shows something, and what six maps take.
import type { Page } from '@playwright/test';
import { bigScan } from './big-scan.ts';
import { clear, median, onPage, settled, timings, type Timing } from './page.ts';

const { path } = await bigScan();

const MAPS = ['height-from-picture', 'normal-from-height', 'roughness', 'occlusion', 'translucency', 'thickness'];
/** The step of each drag, and the slider. */
const DRAGS = [
  ['height-from-picture', 'Smoothing'],
  ['normal-from-height', 'Depth, mm'],
  ['roughness', 'Contrast'],
  ['occlusion', 'Radius'],
  ['translucency', 'Full thickness, mm'],
] as const;

await onPage(async (page, _browser, reportMemory) => {
  await page.locator('[data-test=chooser]').setInputFiles(path);
  await settled(page);
  for (const kind of MAPS) await insert(page, 'maps', kind);
  await page.waitForTimeout(3000);
  console.log('six maps at 4096²:');
  reportMemory();
  for (const [kind, label] of DRAGS) await measureDrag(page, kind, label);
  await insert(page, 'colour', 'swing');
  await measureDrag(page, 'swing', 'Lightness');
  await insert(page, 'colour', 'ramp');
  await measureDrag(page, 'ramp', 'Amount', -3);
  await insert(page, 'fit', 'turn-to-fit');
  await measureDrag(page, 'turn-to-fit', 'Margin');
  console.log('… with two steps of colour and a fit:');
  reportMemory();
});

async function insert(page: Page, stretch: string, kind: string): Promise<void> {
  await page.locator(`[data-test=insert-${stretch}]`).click();
  await page.waitForTimeout(300);
  await clear(page);
  await page.locator(`[data-kind="${kind}"]`).click();
  await settled(page);
}

/** @param by - Pixels from move to move. */
async function measureDrag(page: Page, kind: string, label: string, by = 3): Promise<void> {
  await page.locator(`[data-test=step-${kind}] .face`).click();
  await page.waitForTimeout(1000);
  const box = (await page.getByRole('slider', { name: label }).first().boundingBox())!;
  const y = box.y + box.height / 2;
  await clear(page);
  await page.mouse.move(box.x + box.width / 2, y);
  await page.mouse.down();
  for (let i = 1; i <= 12; i++) {
    await page.mouse.move(box.x + box.width / 2 + by * i, y);
    await page.waitForTimeout(60);
  }
  await page.waitForTimeout(300);
  await page.mouse.up();
  await settled(page);
  const list = [...(await timings(page))];
  const edits = list.filter((t) => t.name === 'edited');
  const answers = (name: string) =>
    edits.map((to: Timing) => (list.find((t) => t.name === name && t.turn >= to.turn)?.at ?? NaN) - to.at);
  console.log(
    `${kind}, ${label}: ${edits.length} changes, first update median ${median(answers('view'))}, worst ${Math.round(Math.max(...answers('view')))} (target 100), drawn median ${median(answers('frame'))}; in full ${Math.round(list.find((t) => t.name === 'settled' && t.at > edits.at(-1)!.at)!.at - edits.at(-1)!.at)} after the last`,
  );
}

// Painting by hand at 4096², measured on the built application in Chromium.
import type { Page } from '@playwright/test';
import { bigScan } from './big-scan.ts';
import { first, clear, median, onPage, settled, timings } from './page.ts';

const SIDES = [16, 128, 512, 1024];
const MOVES = 60;

const { path } = await bigScan();
await onPage(async (page, _browser, reportMemory) => {
  await page.locator('[data-test=chooser]').setInputFiles(path);
  await settled(page);
  await page.locator('[data-test=insert-mask]').click();
  await page.getByRole('menuitem', { name: /^Strokes/ }).click();
  await page.waitForTimeout(5000);
  for (const diameter of SIDES) await measureBrush(page, diameter);
  await measureLift(page);
  reportMemory();
});

async function setDiameter(page: Page, diameter: number): Promise<void> {
  const field = page.getByRole('spinbutton', { name: 'Diameter, texels', exact: true });
  await field.fill(String(diameter));
  await field.press('Enter');
}

async function middle(page: Page): Promise<[number, number]> {
  const box = (await page.locator('[data-test=sheet]').boundingBox())!;
  return [box.x + box.width / 2, box.y + box.height / 2];
}

/** Main-thread work of one pointer event while a stroke is drawn, and how long until its first frame. */
async function measureBrush(page: Page, diameter: number): Promise<void> {
  await setDiameter(page, diameter);
  const [cx, cy] = await middle(page);
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const metrics = async () =>
    new Map((await cdp.send('Performance.getMetrics')).metrics.map((m) => [m.name, 1000 * m.value]));
  const firsts: number[] = [];
  await page.mouse.move(cx - 100, cy);
  await page.waitForTimeout(3000);
  await clear(page);
  await page.mouse.down();
  await page.waitForTimeout(400);
  const before = await metrics();
  for (let i = 0; i < MOVES; i++) {
    await page.mouse.move(cx - 100 + 3 * i, cy + 40 * Math.sin(i / 9));
    await page.waitForTimeout(12);
  }
  const after = await metrics();
  const list = await timings(page);
  await page.mouse.up();
  firsts.push(first(list, 'frame', first(list, 'pointerdown')) - first(list, 'pointerdown'));
  const events = list.filter((t) => t.name === 'pointermove').length;
  const spent = (...names: string[]) =>
    (names.reduce((sum, n) => sum + after.get(n)! - before.get(n)!, 0) / events).toFixed(1);
  const drawn = list.filter((t) => t.name === 'frame').length;
  console.log(
    `brush of ${diameter} texels: of the main thread a pointer event: script ${spent('ScriptDuration')} ms, with style and layout ${spent('ScriptDuration', 'RecalcStyleDuration', 'LayoutDuration')}, all tasks ${spent('ThreadTime')} of processor, ${spent('TaskDuration')} by the clock (target ${diameter <= 128 ? 4 : 8}); ${events} events, ${drawn} frames; first frame after ${median(firsts)} ms`,
  );
  await page.waitForTimeout(2500);
}

/** From lifting the pen, and from the key of undo, to the settled mask. */
async function measureLift(page: Page): Promise<void> {
  await setDiameter(page, 32);
  const [cx, cy] = await middle(page);
  const lifts: number[] = [];
  const sheets: number[] = [];
  const stands: number[] = [];
  const undos: number[] = [];
  for (let round = 0; round < 7; round++) {
    await page.waitForTimeout(2500);
    await page.mouse.move(cx - 20, cy - 60 + 12 * round);
    await page.mouse.down();
    await page.mouse.move(cx + 26, cy - 60 + 12 * round, { steps: 12 }); // some 500 texels
    await page.waitForTimeout(300);
    await clear(page);
    await page.mouse.up();
    await page.waitForTimeout(1000);
    let list = await timings(page);
    const up = first(list, 'pointerup');
    lifts.push(first(list, 'mask', up) - up);
    sheets.push(first(list, 'frame', first(list, 'mask', up)) - up);
    stands.push(first(list, 'stand', first(list, 'mask', up)) - up);
    await page.waitForTimeout(1500);
    await clear(page);
    await page.keyboard.press('Control+z');
    await page.waitForTimeout(1000);
    list = await timings(page);
    const key = list.filter((t) => t.name === 'keydown').at(-1)!.at;
    undos.push(first(list, 'mask', key) - key);
    if (process.env['TIMELINE']) console.log(list.map((t) => `${t.name} ${Math.round(t.at - key)}`).join(', '));
  }
  console.log(
    `a stroke of some 500 texels: settled ${median(lifts)} ms after lifting, worst ${Math.round(Math.max(...lifts))} (target 50), drawn on the Sheet ${median(sheets)}, on the Stand ${median(stands)}, worst ${Math.round(Math.max(...stands))} (target 150); undone ${median(undos)} ms, worst ${Math.round(Math.max(...undos))} (target 30)`,
  );
}

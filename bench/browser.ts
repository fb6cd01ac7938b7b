// What a person feels at 4096², measured on the built application in Chromium: see README, "Figures".
import { readFileSync } from 'node:fs';
import type { Browser, Page } from '@playwright/test';
import { bigScan } from './big-scan.ts';
import { clear, first, median, moving, onPage, settled, since, timings, type Timing } from './page.ts';

const { path } = await bigScan();
await onPage(async (page, browser, reportMemory) => {
  await measureDrop(page);
  await measureLevels(page);
  await measureCutoff(page);
  await measureEmptyPage(browser);
  reportMemory();
  await measureHandOff(page);
  reportMemory();
});

async function measureDrop(page: Page): Promise<void> {
  await page.waitForTimeout(4000); // a person takes longer to find a file
  await page.locator('[data-test=chooser]').setInputFiles(path);
  await settled(page);
  await page.waitForTimeout(1500);
  const list = await timings(page);
  const start = first(list, 'dropped');
  if (process.env['TIMELINE'])
    console.log(list.map((t) => `${t.name} ${Math.round(t.at - start)} (${Math.round(t.ms)})`).join(', '));
  const full = first(list, 'mask');
  const drawn = first(list, 'frame', full);
  console.log(
    `drop of a ${(readFileSync(path).length / 1e6).toFixed(1)} MB PNG: first view ${since(first(list, 'frame', first(list, 'view')), start)}, first full view ${since(drawn, start)} (target 3000)`,
  );
}

async function measureLevels(page: Page): Promise<void> {
  await page.locator('[data-test=insert-mask]').click();
  await page.getByText('Darker than the black point').click();
  await settled(page);
  await page.waitForTimeout(2500);
  const box = (await page.getByRole('slider', { name: 'Black point' }).boundingBox())!;
  const firsts: number[] = [];
  const drawn: number[] = [];
  const fulls: number[] = [];
  for (let round = 0; round < 5; round++) {
    await clear(page);
    await page.mouse.move(box.x + box.width / 2 + (round ? 20 * round : 0), box.y + box.height / 2);
    await page.mouse.down();
    for (let i = 1; i <= 12; i++) {
      await page.mouse.move(box.x + box.width / 2 + 20 * round + 2 * i, box.y + box.height / 2);
      await page.waitForTimeout(60);
    }
    await page.waitForTimeout(1500);
    const list = [...(await timings(page))];
    await page.mouse.up();
    const edits = list.filter((t) => t.name === 'edited');
    const answer = (name: string, to: Timing) => list.find((t) => t.name === name && t.turn >= to.turn)!.at - to.at;
    for (const edit of edits) {
      firsts.push(answer('view', edit));
      drawn.push(answer('frame', edit));
    }
    fulls.push(answer('mask', edits.at(-1)!));
  }
  console.log(
    `levels drag: first update median ${median(firsts)}, worst ${Math.round(Math.max(...firsts))} of ${firsts.length} (target 50), drawn median ${median(drawn)}; settled at full size median ${median(fulls)}, worst ${Math.round(Math.max(...fulls))} (target 400)`,
  );
}

/** Moves come as fast as a screen shows them; the work of the page is set against the frames that showed one. */
async function measureCutoff(page: Page): Promise<void> {
  await page.waitForTimeout(2500);
  const box = (await page.locator('.plot').boundingBox())!;
  await page.mouse.move(box.x + box.width / 2, box.y + 60);
  await page.mouse.down();
  await page.waitForTimeout(500);
  await clear(page);
  const spent = await moving(page, (i) => [box.x + box.width * (0.5 + 0.3 * Math.sin(i / 24)), box.y + 60]);
  await page.mouse.up();
  const list = await timings(page);
  const drawn = list.filter((t) => t.name === 'frame');
  console.log(
    `cutoff drag: ${spent(list.filter((t) => t.name === 'shown').length)} (target 4); ${drawn.length} frames drawn by the worker, median ${median(drawn.map((f) => f.ms))} ms; runs recomputed ${list.filter((t) => t.name === 'edited').length}`,
  );
}

/** What the same moves cost this browser on a page where they move one box and write one word: nothing of ours runs. */
async function measureEmptyPage(browser: Browser): Promise<void> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.setContent('<div style="position:fixed;width:2px;height:99px;background:red"></div><p>0</p>');
  await page.evaluate(() => {
    const box = document.querySelector('div')!;
    const word = document.querySelector('p')!;
    let frames = 0;
    addEventListener('pointermove', ({ clientX }) =>
      requestAnimationFrame(() => {
        box.style.transform = `translateX(${clientX}px)`;
        word.textContent = String((Object.assign(window, { frames: ++frames }), clientX));
      }),
    );
  });
  const spent = await moving(page, (i) => [640 + 300 * Math.sin(i / 24), 400]);
  const frames = await page.evaluate(() => (window as unknown as { frames: number }).frames);
  console.log(`  the same moves on an empty page: ${spent(frames)}`);
  await page.close();
}

async function measureHandOff(page: Page): Promise<void> {
  await page.locator('[data-test=to-hand-off]').click();
  await page.waitForTimeout(4000);
  const started = performance.now();
  await page.locator('[data-test=write]').click();
  await page.locator('[data-test=verdict]').waitFor({ timeout: 60_000 });
  console.log(
    `GLB hand-off, read back and validated: ${Math.round(performance.now() - started)} ms (target 5000): ${(await page.locator('[data-test=verdict]').innerText()).trim()}`,
  );
}

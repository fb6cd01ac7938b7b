// What a person feels at 4096², measured on the built application in Chromium: see README, "Figures".
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { CHROMIUM_ARGS } from '../e2e/chromium.ts';
import { bigScan } from './big-scan.ts';

interface Timing {
  name: string;
  at: number;
  /** Number of the edit that this is or answers. */
  edit: number;
  ms: number;
}

const PORT = 4872;
const { path } = await bigScan();
const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-bench-'));
const server = spawn(process.execPath, ['apps/server/dist/main.js', '--data', data, '--port', String(PORT)], {
  stdio: ['ignore', 'ignore', 'inherit'],
});
const browser = await chromium.launch({
  executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
  args: CHROMIUM_ARGS,
});
try {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => {
    const log: unknown[] = [];
    Object.assign(window, { timings: log });
    window.addEventListener('lithe:timing', (e) => log.push((e as CustomEvent).detail));
  });
  await waitForServer();
  await page.goto(`http://127.0.0.1:${PORT}/`);
  await measureDrop(page);
  await measureLevels(page);
  await measureCutoff(page);
  await measureEmptyPage();
  reportMemory();
  await measureHandOff(page);
} finally {
  await browser.close();
  server.kill('SIGTERM');
  await new Promise((resolve) => server.once('exit', resolve));
  rmSync(data, { recursive: true, force: true });
}

async function waitForServer(): Promise<void> {
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`http://127.0.0.1:${PORT}/api/pieces`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
  throw new Error('the server did not start');
}

function timings(page: Page): Promise<Timing[]> {
  return page.evaluate(() => (window as unknown as { timings: Timing[] }).timings);
}

function clear(page: Page): Promise<void> {
  return page.evaluate(() => void ((window as unknown as { timings: Timing[] }).timings.length = 0));
}

function first(list: Timing[], name: string, after = 0): number {
  return list.find((t) => t.name === name && t.at >= after)?.at ?? NaN;
}

async function settled(page: Page): Promise<void> {
  await page.waitForFunction(
    () => (window as unknown as { timings: Timing[] }).timings.some((t) => t.name === 'settled'),
    undefined,
    { timeout: 60_000 },
  );
}

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
    const answer = (name: string, to: Timing) => list.find((t) => t.name === name && t.edit >= to.edit)!.at - to.at;
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
async function measureEmptyPage(): Promise<void> {
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

/** Moves the mouse 240 times; gives what the page's main thread did meanwhile, in words, set against frames. */
async function moving(page: Page, place: (i: number) => [number, number]): Promise<(frames: number) => string> {
  const cdp = await page.context().newCDPSession(page);
  await cdp.send('Performance.enable');
  const metrics = async () =>
    new Map((await cdp.send('Performance.getMetrics')).metrics.map((m) => [m.name, 1000 * m.value]));
  const before = await metrics();
  for (let i = 0; i < 240; i++) {
    await page.mouse.move(...place(i));
    await page.waitForTimeout(12);
  }
  const after = await metrics();
  const spent = (names: string[]) => names.reduce((sum, name) => sum + after.get(name)! - before.get(name)!, 0);
  return (frames) => {
    const ms = (...names: string[]) => (spent(names) / frames).toFixed(1);
    return `${frames} frames of the page; of the main thread a frame: script ${ms('ScriptDuration')} ms, script with style and layout ${ms('ScriptDuration', 'RecalcStyleDuration', 'LayoutDuration')}, all tasks ${ms('ThreadTime')} of processor, ${ms('TaskDuration')} by the clock`;
  };
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
  reportMemory();
}

function reportMemory(): void {
  const rss = (pid: number) =>
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  const processes = execFileSync('ps', ['-eo', 'pid,args']).toString().split('\n');
  const renderers = processes
    .filter((l) => l.includes('--type=renderer'))
    .map((l) => rss(Number.parseInt(l.trim(), 10)));
  const gpu = processes.filter((l) => l.includes('--type=gpu-process')).map((l) => rss(Number.parseInt(l.trim(), 10)));
  console.log(
    `memory: server ${Math.round(rss(server.pid!))} MB, tab ${Math.round(Math.max(...renderers))} MB, software graphics ${Math.round(Math.max(0, ...gpu))} MB`,
  );
}

function since(at: number, start: number): string {
  return `${Math.round(at - start)} ms`;
}

function median(values: number[]): number {
  return Math.round(values.toSorted((a, b) => a - b)[values.length >> 1] * 10) / 10;
}

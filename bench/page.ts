// The built application in Chromium, for measuring: a server of its own, what the page reports of its timing, and memory.
import { execFileSync, spawn } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { chromium, type Browser, type Page } from '@playwright/test';
import { CHROMIUM_ARGS } from '../e2e/chromium.ts';

export interface Timing {
  name: string;
  at: number;
  /** Number of the edit that this is or answers. */
  turn: number;
  ms: number;
}

const PORT = 4872;

/**
 * Runs `measure` on the Stock of an empty studio, and cleans up after it.
 *
 * @param options - Further ones of the server.
 */
export async function onPage(
  measure: (page: Page, browser: Browser, reportMemory: () => void) => Promise<void>,
  options: string[] = [],
) {
  const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-bench-'));
  const server = spawn(
    process.execPath,
    ['apps/server/dist/main.js', '--data', data, '--port', String(PORT), ...options],
    {
      stdio: ['ignore', 'ignore', 'inherit'],
    },
  );
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
      for (const name of ['pointerdown', 'pointermove', 'pointerup', 'keydown']) {
        window.addEventListener(name, () => log.push({ name, at: performance.now(), edit: 0, ms: 0 }), {
          capture: true,
        });
      }
    });
    await waitForServer();
    await page.goto(`http://127.0.0.1:${PORT}/`);
    await measure(page, browser, () => reportMemory(server.pid!));
  } finally {
    await browser.close();
    server.kill('SIGTERM');
    await new Promise((resolve) => server.once('exit', resolve));
    rmSync(data, { recursive: true, force: true });
  }
}

async function waitForServer(): Promise<void> {
  for (let i = 0; i < 600; i++) {
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

export function timings(page: Page): Promise<Timing[]> {
  return page.evaluate(() => (window as unknown as { timings: Timing[] }).timings);
}

export function clear(page: Page): Promise<void> {
  return page.evaluate(() => void ((window as unknown as { timings: Timing[] }).timings.length = 0));
}

export function first(list: Timing[], name: string, after = 0): number {
  return list.find((t) => t.name === name && t.at >= after)?.at ?? NaN;
}

export async function settled(page: Page): Promise<void> {
  await page.waitForFunction(
    () => (window as unknown as { timings: Timing[] }).timings.some((t) => t.name === 'settled'),
    undefined,
    { timeout: 60_000 },
  );
}

/** Moves the mouse 240 times; gives what the page's main thread did meanwhile, in words, set against frames. */
export async function moving(page: Page, place: (i: number) => [number, number]): Promise<(frames: number) => string> {
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

function reportMemory(serverPid: number): void {
  const rss = (pid: number) =>
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1] ?? 0) / 1024;
  const processes = execFileSync('ps', ['-eo', 'pid,args']).toString().split('\n');
  const renderers = processes
    .filter((l) => l.includes('--type=renderer'))
    .map((l) => rss(Number.parseInt(l.trim(), 10)));
  const gpu = processes.filter((l) => l.includes('--type=gpu-process')).map((l) => rss(Number.parseInt(l.trim(), 10)));
  console.log(
    `memory: server ${Math.round(rss(serverPid))} MB, tab ${Math.round(Math.max(...renderers))} MB, software graphics ${Math.round(Math.max(0, ...gpu))} MB`,
  );
}

export function since(at: number, start: number): string {
  return `${Math.round(at - start)} ms`;
}

export function median(values: number[]): number {
  return Math.round(values.toSorted((a, b) => a - b)[values.length >> 1] * 10) / 10;
}

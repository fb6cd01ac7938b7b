// Starts the built application on a data folder of its own, for the browser tests. The demo pieces take some twenty
// seconds of one core to draw: the first of the servers of a run draws them, all begin with a copy of what it drew.
import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdirSync, mkdtempSync, renameSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';

const port = process.env['E2E_PORT'];
const drawn = process.env['E2E_STUDIO']; // of this run
const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-'));
let server;
let stopping = false;
for (const signal of ['SIGTERM', 'SIGINT'])
  process.on(signal, () => {
    stopping = true;
    server?.kill('SIGTERM');
  });

function start(folder, ...more) {
  const args = ['apps/server/dist/main.js', '--data', folder, '--port', port, ...more];
  server = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
  server.stdout.pipe(process.stdout);
  return new Promise((resolve) => server.on('exit', (code) => resolve(code ?? 0)));
}

/** Whether this one is to draw. */
function isFirst() {
  try {
    mkdirSync(`${drawn}.first`);
    return true;
  } catch {
    return false;
  }
}

const first = isFirst();
if (first) {
  const ended = start(`${drawn}.begun`, '--demo');
  server.stdout.on('data', (chunk) => String(chunk).includes('"listening"') && server.kill('SIGTERM'));
  await ended;
  renameSync(`${drawn}.begun`, drawn);
}
while (!existsSync(drawn) && !stopping) await sleep(200);
if (!stopping) {
  cpSync(drawn, data, { recursive: true });
  process.exitCode = await start(data);
}
for (const folder of first ? [data, drawn, `${drawn}.first`] : [data]) rmSync(folder, { recursive: true, force: true });

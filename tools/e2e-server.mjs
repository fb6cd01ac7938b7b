// Starts the built application for the browser tests, on a copy of the studio that E2E_STUDIO names; the first server of a
// run draws that where it is not there.
import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { drawStudio } from './draw-studio.mjs';

const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-'));
const studio = process.env['E2E_STUDIO'];
const mine = !existsSync(studio);
if (mine) await drawStudio(studio);
cpSync(studio, data, { recursive: true });
const args = ['apps/server/dist/main.js', '--data', data, '--port', process.env['E2E_PORT']];
const server = spawn(process.execPath, args, { stdio: 'inherit' });
const stop = () => server.kill('SIGTERM');
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
server.on('exit', (code) => {
  for (const folder of mine ? [data, studio] : [data]) rmSync(folder, { recursive: true, force: true });
  process.exit(code ?? 0);
});

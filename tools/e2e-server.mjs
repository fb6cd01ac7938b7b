// Starts the built application on an empty data folder of its own, for the browser tests.
import { spawn } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const data = mkdtempSync(join(tmpdir(), 'lithe-sieve-'));
const port = process.env['E2E_PORT'] ?? '4871';
const server = spawn(process.execPath, ['apps/server/dist/main.js', '--data', data, '--port', port, '--demo'], {
  stdio: 'inherit',
});
const stop = () => server.kill('SIGTERM');
process.on('SIGTERM', stop);
process.on('SIGINT', stop);
server.on('exit', (code) => {
  rmSync(data, { recursive: true, force: true });
  process.exit(code ?? 0);
});

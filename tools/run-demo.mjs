// npm run demo: from a fresh clone to the running application with the demo pieces, in a database of its own.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { build, installPackages, ROOT } from './set-up.mjs';

const driver = installPackages();
build();
await driver;
const data = join(ROOT, 'lithe-sieve-data', 'demo');
const args = [join(ROOT, 'apps/server/dist/main.js'), '--demo', '--data', data, ...process.argv.slice(2)];
const server = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
server.stdout.on('data', (chunk) => {
  process.stdout.write(chunk);
  const address = /"address":"([^"]+)"/.exec(String(chunk));
  if (address) console.log(`\n  Lithe Sieve is at ${address[1]}\n  Stop it with Ctrl+C.\n`);
});
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill('SIGTERM'));
server.on('exit', (code) => process.exit(code ?? 0));

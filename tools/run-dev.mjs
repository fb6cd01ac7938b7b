// npm run dev: the server from its sources (restarts on change) and Vite's server with hot reload before it.
import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { installPackages, ROOT } from './set-up.mjs';

await installPackages();
const data = join(ROOT, 'lithe-sieve-data', 'dev');
const start = (command, args) => spawn(command, args, { cwd: ROOT, stdio: 'inherit' });
const children = [
  start('npx', [
    'tsx',
    'watch',
    '--conditions=source',
    'apps/server/src/main.ts',
    '--data',
    data,
    '--demo',
    ...process.argv.slice(2),
  ]),
  start('npx', ['vite', 'apps/web']),
];
const stop = () => children.forEach((child) => child.kill('SIGTERM'));
for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, stop);
for (const child of children) child.on('exit', stop);

// npm test: everything, from a fresh clone. Each part runs even where one before it failed; the last line counts them
// all, and the exit code is 0 only where nothing failed.
import { spawn } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { drawStudio } from './draw-studio.mjs';
import { bringChromium, installPackages, installTools, ROOT } from './set-up.mjs';

installTools();
const chromium = bringChromium(); // while npm works
const driver = installPackages(); // compiled beside what follows
const RESULTS = join(ROOT, 'test-results');
/** What the servers of the browser tests begin with. */
const STUDIO = join(RESULTS, 'studio');
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });

let passed = 0;
let failed = 0;

/** Runs one part; its output comes in one piece when it ends, unless it is shown as it comes. */
async function part(name, command, args, { env = {}, count, live = false } = {}) {
  const started = Date.now();
  if (live) console.log(`\n== ${name}`);
  const child = spawn(command, args, {
    cwd: ROOT,
    stdio: live ? 'inherit' : ['ignore', 'pipe', 'pipe'],
    env: { ...process.env, CI: 'true', ...env },
  });
  const output = [];
  for (const stream of [child.stdout, child.stderr]) stream?.on('data', (chunk) => output.push(chunk));
  const status = await new Promise((resolve) => child.on('close', resolve));
  const found = count?.() ?? null;
  if (found) {
    passed += found.passed;
    failed += found.failed;
  }
  // a part without tests counts as one; one that broke down without a failed test counts as failed all the same
  if (!found) {
    if (status === 0) passed += 1;
    else failed += 1;
  } else if (status !== 0 && found.failed === 0) failed += 1;
  if (!live) console.log(`\n== ${name}\n${Buffer.concat(output)}`.trimEnd());
  console.log(`== ${name}: ${status === 0 ? 'ok' : 'FAILED'} after ${Math.round((Date.now() - started) / 1000)} s`);
}

const report = (file, read) => () => {
  const path = join(RESULTS, file);
  return existsSync(path) ? read(JSON.parse(readFileSync(path, 'utf8'))) : null;
};

const npmRun = (script, ...rest) => ['npm', ['run', '--silent', script, ...rest]];

// two at a time: that is how many cores there are
const built = (async () => {
  await part('type-check of packages and server', 'npx', ['tsc', '-b']);
  await part('build of the web application', ...npmRun('build', '-w', '@lithe-sieve/web'));
})();
// neither needs what is built
const unbuilt = (async () => {
  await part('format', ...npmRun('format:check'));
  await part('kernels as compiled', ...npmRun('kernels', '--', '--check'));
})();
await Promise.all([
  (async () => {
    await built;
    await part('type-check of the web application', ...npmRun('typecheck', '-w', '@lithe-sieve/web'));
    await part('direction of dependencies', ...npmRun('depcruise'));
    await part('nothing unused', ...npmRun('knip'));
    await part('lint', ...npmRun('lint'));
  })(),
  (async () => {
    await Promise.all([driver, built, unbuilt, chromium]);
    await part('torture, short form', 'npx', ['tsx', '--conditions=source', 'torture/main.ts', '--short']);
    await drawStudio(STUDIO).catch((error) => console.error(error.message)); // then the browser tests try
    await part(
      'unit tests',
      'npx',
      ['jest', '--maxWorkers', '2', '--forceExit', '--json', '--outputFile', join(RESULTS, 'unit.json')],
      {
        live: true,
        env: { NODE_OPTIONS: '--experimental-vm-modules --no-warnings' },
        count: report('unit.json', (r) => ({
          passed: r.numPassedTests,
          failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
        })),
      },
    );
  })(),
]);
if (!(await chromium)) console.error('Chromium could not be installed; the browser tests will fail.');
await part('browser tests', 'npx', ['playwright', 'test'], {
  live: true,
  env: { E2E_STUDIO: STUDIO },
  count: report('e2e.json', (r) => ({ passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected })),
});

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);

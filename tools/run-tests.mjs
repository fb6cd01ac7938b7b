// npm test: everything, from a fresh clone. Each part runs even where one before it failed; the last line counts them
// all, and the exit code is 0 only where nothing failed.
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { installChromium, installPackages, ROOT } from './set-up.mjs';

installPackages();
installChromium();
const RESULTS = join(ROOT, 'test-results');
rmSync(RESULTS, { recursive: true, force: true });
mkdirSync(RESULTS, { recursive: true });

let passed = 0;
let failed = 0;

function part(name, command, args, { env = {}, count } = {}) {
  console.log(`\n== ${name}`);
  const started = Date.now();
  const { status } = spawnSync(command, args, {
    cwd: ROOT,
    stdio: 'inherit',
    env: { ...process.env, CI: 'true', ...env },
  });
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
  console.log(`== ${name}: ${status === 0 ? 'ok' : 'FAILED'} after ${Math.round((Date.now() - started) / 1000)} s`);
}

const report = (file, read) => () => {
  const path = join(RESULTS, file);
  return existsSync(path) ? read(JSON.parse(readFileSync(path, 'utf8'))) : null;
};

part('type-check of packages and server', 'npx', ['tsc', '-b']);
part('build of the web application', 'npm', ['run', '--silent', 'build', '-w', '@lithe-sieve/web']);
part('type-check of the web application', 'npm', ['run', '--silent', 'typecheck', '-w', '@lithe-sieve/web']);
part('lint and format', 'npm', ['run', '--silent', 'lint']);
part('direction of dependencies', 'npm', ['run', '--silent', 'depcruise']);
part('nothing unused', 'npm', ['run', '--silent', 'knip']);
part('unit tests', 'npx', ['jest', '--forceExit', '--json', '--outputFile', join(RESULTS, 'unit.json')], {
  env: { NODE_OPTIONS: '--experimental-vm-modules --no-warnings' },
  count: report('unit.json', (r) => ({
    passed: r.numPassedTests,
    failed: r.numFailedTests + r.numRuntimeErrorTestSuites,
  })),
});
part('browser tests', 'npx', ['playwright', 'test'], {
  count: report('e2e.json', (r) => ({ passed: r.stats.expected + r.stats.flaky, failed: r.stats.unexpected })),
});

console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);

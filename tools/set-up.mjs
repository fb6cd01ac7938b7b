// What a fresh machine needs before anything runs: packages, the build, and for tests a browser. Each is skipped when
// it is there already. Shared by the commands of package.json.
import { execFileSync, spawn, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = join(dirname(fileURLToPath(import.meta.url)), '..');

/** Runs a command with its output shown; ends the process when it fails. */
export function run(command, args, env = {}) {
  const { status } = spawnSync(command, args, { cwd: ROOT, stdio: 'inherit', env: { ...process.env, ...env } });
  if (status !== 0) {
    console.error(`\n${command} ${args.join(' ')} failed.`);
    process.exit(status ?? 1);
  }
}

const NODE_FROM = [20, 20];

/** Why this Node.js cannot run the application; null where it can. */
export function whatNodeLacks(version = process.versions.node) {
  const [major, minor] = version.split('.').map(Number);
  if (major > NODE_FROM[0] || (major === NODE_FROM[0] && minor >= NODE_FROM[1])) return null;
  return `This is Node.js ${version}; Lithe Sieve needs ${NODE_FROM.join('.')} or later. Install that, then run this again.`;
}

/** The database driver is compiled here: for that a compiler, make and Python must be on the machine. */
export function missingTools(has = (tool) => spawnSync(tool, ['--version'], { stdio: 'ignore' }).status === 0) {
  return ['python3', 'make', 'g++'].filter((tool) => !has(tool));
}

/** What compiling the driver needs; before anything else asks apt for something. */
export function installTools() {
  const missing = missingTools();
  if (missing.length === 0) return;
  const debian = existsSync('/usr/bin/apt-get') && process.getuid?.() === 0;
  if (!debian) {
    console.error(
      `The database driver is compiled when it is installed, and ${missing.join(' and ')} cannot be found here. ` +
        'Install Python 3, make and a C++ compiler (on Debian: apt-get install python3 make g++), then run this again.',
    );
    process.exit(1);
  }
  apt('update', '-q');
  apt('install', '-y', '-q', '--no-install-recommends', ...missing);
}

function apt(...args) {
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  execFileSync('apt-get', ['-o', 'DPkg::Lock::Timeout=900', ...args], { stdio: 'inherit', env });
}

/**
 * `npm ci`, unless what is installed is what the lock file says. Compiling the database driver takes a minute of one
 * core and is needed by the running server alone: it goes on beside what follows.
 *
 * @returns when the driver is there too.
 */
export function installPackages() {
  const lack = whatNodeLacks();
  if (lack) {
    console.error(lack);
    process.exit(1);
  }
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = join(ROOT, 'node_modules', '.lithe-sieve-lock');
  const known = existsSync(join(ROOT, 'node_modules', 'vite'));
  if (known && existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return Promise.resolve();
  installTools();
  run('npm', ['ci', '--no-audit', '--no-fund', '--ignore-scripts']);
  // compiled against the headers of this very Node.js where they are on the machine
  const prefix = join(dirname(process.execPath), '..');
  const headers = existsSync(join(prefix, 'include', 'node', 'node.h'));
  // half the time of -O3, which is its own choice; the Stock and commits are as fast within noise (bench/stock, durability)
  const speed = { CFLAGS: '-O1', CXXFLAGS: '-O1' };
  const env = { ...process.env, ...speed, ...(headers ? { npm_config_nodedir: prefix } : {}) };
  const child = spawn('npm', ['rebuild', 'better-sqlite3'], { cwd: ROOT, stdio: 'inherit', env });
  process.on('exit', () => child.kill()); // where something else ends the set-up
  return new Promise((resolve) =>
    child.on('close', (status) => {
      if (status !== 0) {
        console.error('\nThe database driver could not be compiled; see above.');
        process.exit(1);
      }
      writeFileSync(stamp, lock);
      resolve();
    }),
  );
}

export function build() {
  run('npm', ['run', '--silent', 'build']);
}

/** Debian's Chromium, for the browser tests. */
export function installChromium() {
  if (hasChromium()) return;
  apt('update', '-q');
  apt(...CHROMIUM);
}

/** The same beside what is done meanwhile, which may block this process; the promise resolves to whether it is there. */
export function bringChromium() {
  if (hasChromium()) return Promise.resolve(true);
  const quiet = 'apt-get -q -o DPkg::Lock::Timeout=900';
  const child = spawn('sh', ['-c', `${quiet} update && ${quiet} ${CHROMIUM.join(' ')}`], {
    stdio: ['ignore', 'ignore', 'inherit'],
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
  });
  return new Promise((resolve) => child.on('close', () => resolve(hasChromium())));
}

const CHROMIUM = ['install', '-y', '-q', '--no-install-recommends', 'chromium'];
const hasChromium = () => existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium');

// What a fresh machine needs before anything runs: packages, the build, and for tests a browser. Each is skipped when
// it is there already. Shared by the commands of package.json.
import { execFileSync, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
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

/** `npm ci`, unless what is installed is what the lock file says. */
export function installPackages() {
  const lock = createHash('sha256')
    .update(readFileSync(join(ROOT, 'package-lock.json')))
    .digest('hex');
  const stamp = join(ROOT, 'node_modules', '.lithe-sieve-lock');
  const known = existsSync(join(ROOT, 'node_modules', 'vite'));
  if (known && existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  // the database driver is compiled against the headers of this very Node.js where they are on the machine
  const prefix = join(dirname(process.execPath), '..');
  const headers = existsSync(join(prefix, 'include', 'node', 'node.h'));
  const env = { JOBS: 'max', ...(headers ? { npm_config_nodedir: prefix } : {}) };
  run('npm', ['ci', '--no-audit', '--no-fund'], env);
  mkdirSync(dirname(stamp), { recursive: true });
  writeFileSync(stamp, lock);
}

export function build() {
  run('npm', ['run', '--silent', 'build']);
}

/** Debian's Chromium, for the browser tests. */
export function installChromium() {
  if (existsSync(process.env.CHROMIUM ?? '/usr/bin/chromium')) return;
  const apt = (...args) =>
    execFileSync('apt-get', args, { stdio: 'inherit', env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' } });
  apt('update', '-q');
  apt('install', '-y', '-q', '--no-install-recommends', '-o', 'DPkg::Lock::Timeout=900', 'chromium');
}

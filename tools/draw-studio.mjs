// A studio with the demo pieces, for servers of the browser tests to begin with a copy of: drawing takes ten seconds.
import { spawn } from 'node:child_process';
import { rmSync } from 'node:fs';
import { join } from 'node:path';
import { ROOT } from './set-up.mjs';

/** Draws it into `folder`, in the place of what is there. @throws Error where the server does not come up. */
export async function drawStudio(folder) {
  rmSync(folder, { recursive: true, force: true });
  const args = [join(ROOT, 'apps/server/dist/main.js'), '--data', folder, '--port', '0', '--demo'];
  const server = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'inherit'] });
  let listened = false;
  server.stdout.on('data', (chunk) => {
    if (!String(chunk).includes('"listening"')) return;
    listened = true;
    server.kill('SIGTERM');
  });
  await new Promise((resolve) => server.on('exit', resolve));
  if (listened) return;
  rmSync(folder, { recursive: true, force: true });
  throw new Error('The demo pieces could not be drawn; see above.');
}

// The start of the program, without imports of ours: loading them all needs more files than a tight limit allows, and
// fails with the name of some module instead of the reason.
import { closeSync, openSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

/** Open at once while modules are loaded, pages are served and the studio is written. */
const FILES_NEEDED = 200;

function canOpen(files: number): boolean {
  const self = fileURLToPath(import.meta.url);
  const open: number[] = [];
  try {
    while (open.length < files) open.push(openSync(self, 'r'));
    return true;
  } catch {
    return false;
  } finally {
    for (const descriptor of open) closeSync(descriptor);
  }
}

if (canOpen(FILES_NEEDED)) await import('./serve.ts');
else {
  console.error(
    `cannot start: fewer than ${FILES_NEEDED} files may be open at once. Raise the limit (ulimit -n 1024).`,
  );
  process.exit(1);
}

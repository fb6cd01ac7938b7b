// Hands off a piece that was copied out of a studio into a folder, without the studio:
// npx tsx --conditions=source packages/host/hand-off-folder.ts <folder of the piece> <folder for its files>
import { mkdir, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { toPlainError } from '@lithe-sieve/core';
import { FolderPieces, gatherHandOff, handOff } from '@lithe-sieve/host';

const [folder, out] = process.argv.slice(2);
if (!folder || !out) {
  console.error('hand-off-folder <folder of the piece> <folder for its files>');
  process.exit(1);
}
try {
  const store = new FolderPieces(folder);
  const { files, checks } = await handOff(await gatherHandOff(store, await store.docOf()));
  await mkdir(out, { recursive: true });
  for (const { name, bytes } of files) await writeFile(join(out, name), bytes);
  for (const { name, contents } of files) console.log(`${name}: ${contents}`);
  for (const { file, what, found } of checks.filter((c) => !c.ok)) console.error(`${file}, ${what}: ${found}`);
  process.exitCode = checks.every((c) => c.ok) ? 0 : 2;
} catch (error) {
  const { message, remedy } = toPlainError(error);
  console.error(`${message} ${remedy}`);
  process.exitCode = 1;
}

// npm run kernels: compiles packages/core/wasm (AssemblyScript) to WebAssembly and writes it into core as text, so that
// neither the build nor a browser has a file more to fetch. With --check it only says whether what is there is current.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import asc from 'assemblyscript/asc';
import { ROOT } from './set-up.mjs';

const OPTIONS = ['-O3', '--noAssert', '--runtime', 'stub', '--enable', 'simd', '--enable', 'bulk-memory'];
const TARGET = join(ROOT, 'packages/core/src/simd/kernels.ts');

let bytes;
const { error, stderr } = await asc.main(['index.ts', '--outFile', 'kernels.wasm', ...OPTIONS], {
  readFile: (name, base) => {
    try {
      return readFileSync(join(ROOT, 'packages/core/wasm', base ?? '.', name), 'utf8');
    } catch {
      return null;
    }
  },
  writeFile: (name, content) => {
    if (name === 'kernels.wasm') bytes = content;
  },
  listFiles: () => [],
});
if (error) {
  console.error(stderr.toString());
  process.exit(1);
}

const text = `// Compiled from packages/core/wasm by \`npm run kernels\`.
export const KERNELS =
${Buffer.from(bytes)
  .toString('base64')
  .match(/.{1,112}/g)
  .map((line) => `  '${line}'`)
  .join(' +\n')};
`;
if (!process.argv.includes('--check')) writeFileSync(TARGET, text);
else if (readFileSync(TARGET, 'utf8') !== text) {
  console.error('packages/core/src/simd/kernels.ts is not what packages/core/wasm compiles to: npm run kernels');
  process.exit(1);
}

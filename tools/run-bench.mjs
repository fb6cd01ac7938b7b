// npm run bench: core kernels beside other libraries, then the built application in Chromium.
import { build, installChromium, installPackages, run } from './set-up.mjs';

await installPackages();
build();
installChromium();
for (const file of [
  'bench/kernels.ts',
  'bench/formats.ts',
  'bench/maps.ts',
  'bench/meshes.ts',
  'bench/noisy.ts',
  'bench/recipes.ts',
  'bench/atlas.ts',
  'bench/clip.ts',
  'bench/replay.ts',
  'bench/durability.ts',
  'bench/stock.ts',
  'bench/opening.ts',
  'bench/browser.ts',
  'bench/browser-maps.ts',
  'bench/painting.ts',
])
  run('npx', ['tsx', '--conditions=source', file]);

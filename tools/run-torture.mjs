// npm run torture: attacks the built application; see docs/reliability.md. Options go on to torture/main.ts.
import { build, installChromium, installPackages, run } from './set-up.mjs';

await installPackages();
build();
installChromium();
run('npx', ['tsx', '--conditions=source', 'torture/main.ts', ...process.argv.slice(2)]);

import { validateBytes } from 'gltf-validator';
import {
  coverageAt,
  decodePicture,
  evaluateRun,
  finished,
  fingerprint,
  histogram,
  mapKind,
  mapsOf,
  packHandOff,
  readBack,
  readPng,
  regionsFile,
  SieveError,
  thresholdByte,
  toRgba8,
  writePng,
  type Check,
  type PackTools,
  type Raster,
  type RunSource,
  type RunState,
} from '@lithe-sieve/core';
import { grownAt } from './grown.ts';
import { decodeTips } from './decode-tips.ts';
import { deflateInStrips, nodePlatform } from './node-platform.ts';
import type { HandedOff, HandOffTask } from './tasks.ts';

/** Between reports of progress: computations ask far more often whether they are still wanted. */
const TELL_EVERY_MS = 40;
const WARNING = 1; // the validator's severities: 0 error, 1 warning, 2 information, 3 hint

/** Decodes at full size, runs, writes, reads back. Shares of progress are rough thirds of what was measured. */
export async function handOff(task: HandOffTask): Promise<HandedOff> {
  let [told, said] = [0, ''];
  const report = (share: number, doing: string) => {
    if (doing === said && performance.now() - told < TELL_EVERY_MS) return;
    [told, said] = [performance.now(), doing];
    task.progress?.postMessage({ share, doing });
  };
  const tips = await decodeTips(task.tips);
  const sources: RunSource[] = [];
  for (const [i, { id, sha256, place, bytes, recipe }] of task.sources.entries()) {
    report((0.25 * i) / task.sources.length, recipe ? 'Growing the recipe' : 'Reading the sources');
    if (recipe) {
      sources.push({
        id,
        sha256,
        place,
        ...grownAt(recipe, 1, tips, (share) =>
          report((0.25 * (i + share)) / task.sources.length, 'Growing the recipe'),
        ),
      });
      continue;
    }
    const { raster } = await decodePicture(bytes, nodePlatform);
    const deep = raster.data instanceof Uint16Array ? (raster as Raster<Uint16Array>) : undefined;
    sources.push({ id, sha256, place, picture: toRgba8(raster), deep });
  }
  const steps = task.doc.run.length;
  const run = evaluateRun(task.doc.run, {
    sources,
    cardWidth: task.doc.cardWidth,
    strokes: new Map(task.strokes.map((s) => [s.id, s])),
    tip: tips.pictureOf,
    checkpoint: (i, share) => report(0.25 + (0.25 * (i + share)) / steps, `Step ${i + 1} of ${steps}`),
  });
  const failed = run.steps.find((s) => s.error);
  if (failed?.error) {
    const { code, message, remedy } = failed.error;
    throw new SieveError(code, `A step of the run failed: ${message}`, remedy);
  }
  const state = finished(task.doc, run);
  let from = 0.5;
  const tools: PackTools = {
    encodePng: (raster) => writePng(raster, deflateInStrips),
    decodePng: (bytes) => readPng(bytes, nodePlatform),
    validateGlb,
    sourceOf: (id) => sources.find((s) => s.id === id)?.picture ?? null,
    progress: (share, doing) => report(from + 0.25 * share, doing),
  };
  const files = await packHandOff(task.doc, state, tools);
  from = 0.75;
  const checks = await readBack(files, task.doc, tools);
  const regions = regionsFile(task.doc, state, tips.pictureOf);
  const { cutoff, opacity } = task.doc.material;
  return {
    coverage: coverageAt(histogram(state.mask), thresholdByte(cutoff, opacity)),
    size: { width: state.colour.width, height: state.colour.height },
    files: [
      ...files.map(({ name, plan, bytes }) => ({ name, contents: plan.contents, bytes })),
      ...(regions ? [{ name: regions.name, contents: regions.contents, bytes: Buffer.from(regions.text) }] : []),
    ],
    checks: [...checks, ...(regions ? [regions.check] : []), ...compareWithBench(task.bench, state)],
  };
}

async function validateGlb(bytes: Uint8Array): Promise<string[]> {
  const { issues } = await validateBytes(bytes);
  return issues.messages.filter((m) => m.severity <= WARNING).map((m) => `${m.code}: ${m.message}`);
}

/** The Bench sends fingerprints of what it shows; they must be those of what was computed here. */
function compareWithBench(bench: HandOffTask['bench'], state: RunState): Check[] {
  if (!bench) return [];
  return [...mapsOf(state)].flatMap(([map, raster]) => {
    const shown = bench[map];
    if (shown === undefined) return [];
    const computed = fingerprint(raster);
    const ok = shown === computed;
    const found = ok ? `same fingerprint, ${computed}` : `the Bench shows ${shown}, computed ${computed}`;
    return [{ file: 'Bench', what: `${mapKind(map).label} as shown`, ok, found }];
  });
}

import {
  benchLook,
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
  receiveHandOff,
  runHostOf,
  settingsOf,
  SieveError,
  thresholdByte,
  toRgba8,
  type Check,
  type MapName,
  type NameFacts,
  type PackTools,
  type PieceDoc,
  type Raster,
  type Recipe,
  type RunSource,
  type RunState,
  type SourcePlace,
  type Stroke,
  type Verdict,
} from '@lithe-sieve/core';
import { glbTools } from './glb/tools.ts';
import { grownAt } from './grown.ts';
import { nodePlatform } from './node-platform.ts';
import { pictureTools } from './picture-tools.ts';
import { decodeReceived } from './receive.ts';
import { readUserMesh } from './user-mesh.ts';
import { decodeTips, type TipFile, type TipPictures } from './tip-pictures.ts';

interface Placed {
  id: string;
  sha256: string;
  place?: SourcePlace | undefined;
}

/** A source's bytes, or what it is grown from. */
export type HandOffSource = Placed &
  ({ bytes: Uint8Array; recipe?: undefined } | { recipe: Recipe; bytes?: undefined });

/** A document and every file that it names. */
export interface HandOffInput {
  doc: PieceDoc;
  sources: HandOffSource[];
  strokes: Stroke[];
  tips: TipFile[];
  /** The file of its mesh. */
  mesh?: Uint8Array | undefined;
  /** Fingerprints of what a Bench shows, which must be those of what is computed. */
  bench?: Partial<Record<MapName, string>>;
  /** What names may say of it. */
  facts?: NameFacts;
}

export interface HandedOff {
  /** Share of the texels that is kept. */
  coverage: number;
  size: { width: number; height: number };
  files: { name: string; contents: string; bytes: Uint8Array }[];
  checks: Check[];
  /** What simulated targets make of them; `png` is what each shows from afar. */
  /** What is to be set in the target, a sentence each. */
  settings: string[];
  receivers: (Omit<Verdict, 'picture'> & { png: Uint8Array | null })[];
}

/** @param share - 0 to 1. */
export type Report = (share: number, doing: string) => void;

/** Between reports: computations ask far more often whether they are still wanted. */
const REPORT_EVERY_MS = 40;

/**
 * Decodes at full size, runs, writes, reads back.
 *
 * @param tell - Shares are rough thirds of what was measured. What it throws ends the work.
 * @throws SieveError for a file that cannot be read, or a step that fails.
 */
export async function handOff(input: HandOffInput, tell: Report = () => undefined): Promise<HandedOff> {
  const { doc } = input;
  const report = calmly(tell);
  const tips = await decodeTips(input.tips);
  const sources = await sourcesOf(input, tips, report);
  const steps = doc.run.length;
  const checkpoint = (i: number, share: number) =>
    report(0.25 + (0.25 * (i + share)) / steps, `Step ${i + 1} of ${steps}`);
  const run = evaluateRun(
    doc.run,
    runHostOf(doc, { sources, strokes: input.strokes, tip: tips.pictureOf }, { checkpoint }),
  );
  const failed = run.steps.find((s) => s.error);
  if (failed?.error) {
    const { code, message, remedy } = failed.error;
    throw new SieveError(code, `A step of the run failed: ${message}`, remedy);
  }
  const state = finished(doc, run);
  let from = 0.5;
  const tools: PackTools = {
    ...pictureTools,
    glb: glbTools,
    ...(input.facts ? { facts: input.facts } : {}),
    sourceOf: (id) => sources.find((s) => s.id === id)?.picture ?? null,
    partOf: tips.pictureOf,
    mesh: input.mesh ? (await readUserMesh(input.mesh)).mesh : null,
    progress: (share, doing) => report(from + (from < 0.75 ? 0.25 : 0.125) * share, doing),
  };
  const files = await packHandOff(doc, state, tools);
  from = 0.75;
  const checks = await readBack(files, doc, tools);
  from = 0.875;
  const verdicts = await receiveHandOff(doc, files, benchLook(doc, state, tools.sourceOf), {
    decode: decodeReceived,
    progress: (share, doing) => tools.progress?.(share, doing),
  });
  const receivers: HandedOff['receivers'] = [];
  for (const { picture, ...verdict } of verdicts) {
    receivers.push({ ...verdict, png: picture && (await tools.encodePng(picture)) });
  }
  const { cutoff, opacity } = doc.material;
  return {
    coverage: coverageAt(histogram(state.mask), thresholdByte(cutoff, opacity)),
    size: { width: state.colour.width, height: state.colour.height },
    files: files.map(({ name, plan, contents = plan.contents, bytes }) => ({ name, contents, bytes })),
    checks: [...checks, ...compareWithBench(input.bench, state)],
    receivers,
    settings: settingsOf(doc, files),
  };
}

function calmly(tell: Report): Report {
  let [toldAt, said] = [0, ''];
  return (share, doing) => {
    if (doing === said && performance.now() - toldAt < REPORT_EVERY_MS) return;
    [toldAt, said] = [performance.now(), doing];
    tell(share, doing);
  };
}

async function sourcesOf({ sources: given }: HandOffInput, tips: TipPictures, report: Report): Promise<RunSource[]> {
  const sources: RunSource[] = [];
  for (const [i, { id, sha256, place, bytes, recipe }] of given.entries()) {
    const progress = (share: number) =>
      report((0.25 * (i + share)) / given.length, recipe ? 'Growing the recipe' : 'Reading the sources');
    progress(0);
    if (recipe) {
      sources.push({ id, sha256, place, ...grownAt(recipe, 1, tips, progress) });
      continue;
    }
    const { raster } = await decodePicture(bytes, nodePlatform);
    const deep = raster.data instanceof Uint16Array ? (raster as Raster<Uint16Array>) : undefined;
    sources.push({ id, sha256, place, picture: toRgba8(raster), deep });
  }
  return sources;
}

function compareWithBench(bench: HandOffInput['bench'], state: RunState): Check[] {
  if (!bench) return [];
  return [...mapsOf(state)].flatMap(([map, raster]) => {
    const shown = bench[map];
    if (shown === undefined) return [];
    const computed = fingerprint(raster);
    const ok = shown === computed;
    const found = ok ? 'equal to the Bench, texel for texel' : `the Bench shows another (${shown} against ${computed})`;
    return [{ file: 'Bench', what: `${mapKind(map).label} as shown`, ok, found }];
  });
}

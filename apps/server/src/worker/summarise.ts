import {
  coverageAt,
  doubtsOf,
  evaluateRun,
  fieldDivisorOf,
  fieldLoss,
  findSnags,
  frameOf,
  histogram,
  isPointwise,
  makeLevels,
  makePicture,
  cardOf,
  cardRegions,
  handCutLoses,
  outlineWanted,
  resize,
  runHostOf,
  sampleTexels,
  shrink,
  summariseMask,
  surfaceFacts,
  thresholdByte,
  withMaskAsAlpha,
  writePng,
  type Picture,
  type SourceFacts,
} from '@lithe-sieve/core';
import { asShown } from './as-shown.ts';
import { grownProxy } from './grown-proxy.ts';
import { PROXY_SIDE } from './inspect.ts';
import { deflateInStrips } from '@lithe-sieve/host';
import { summaryScale } from './summary-scale.ts';
import type { Proxy, Summarised, SummariseTask } from './tasks.ts';
import { tipsFromProxies } from './tip-proxies.ts';

/** The piece at proxy size: its picture for the Stock, how much is kept, its snags. */
export async function summarise(task: SummariseTask): Promise<Summarised> {
  const { doc, sources: given, strokes, tips: files, side = PROXY_SIDE } = task;
  const tips = tipsFromProxies(files);
  const scale = summaryScale(doc, given[0], side);
  const sources = given.map((s) => ({
    ...s,
    proxy:
      'kind' in s.proxy
        ? grownProxy(s.proxy, scale, tips, side)
        : { ...smaller(s.proxy, s.facts, scale), maps: undefined },
  }));
  const [first] = sources;
  const evaluate = (picture: (of: Proxy) => Uint8Array, data = picture) =>
    evaluateRun(
      doc.run,
      runHostOf(
        doc,
        {
          sources: sources.map((s) => ({
            id: s.id,
            sha256: s.sha256,
            place: s.place,
            picture: atScaleOf(first, s, picture(s.proxy), scale, side),
            data: atScaleOf(first, s, data(s.proxy), scale, side),
            maps: s.proxy.maps,
          })),
          strokes,
          tip: tips.pictureOf,
        },
        { scale },
      ),
    );
  const state = evaluate(
    (s) => s.rgba,
    (s) => s.values,
  );
  const { border, middle } = summariseMask([state.mask]);
  const sourceOf = (id: string) => {
    const proxy = sources.find((s) => s.id === id)?.proxy;
    return proxy ? makePicture(proxy.width, proxy.height, proxy.rgba) : null;
  };
  const facts = new Map(sources.map((s) => [s.sha256, s.facts]));
  const samples = isPointwise(doc.run) ? evaluate((s) => s.samples).mask : state.mask;
  const counts = histogram(samples);
  const { levels } = summariseMask(makeLevels(state.mask, doc.material, doc.levels, { sourceOf }).levels);
  const surface = surfaceFacts(state.colour, state.mask, state.maps);
  const frame = frameOf(state, scale);
  const outline = outlineWanted(doc);
  const divisor = fieldDivisorOf(doc);
  const snags = findSnags({
    doc,
    facts,
    mesh: task.mesh ?? null,
    // at another size there are other texels at the rim of an outline
    keptOutside: scale === 1 && outline ? handCutLoses(state.mask, outline, doc.material, cardRegions(cardOf(doc))) : 0,
    field:
      scale === 1 && divisor
        ? fieldLoss(state.mask, thresholdByte(doc.material.cutoff, doc.material.opacity), divisor)
        : null,
    counts,
    border,
    middle,
    levels,
    surface,
    doubts: doubtsOf(state.steps),
    size: { width: frame.width, height: frame.height },
    cardShare: frame.share,
  });
  const threshold = thresholdByte(doc.material.cutoff, doc.material.opacity);
  const coverage = coverageAt(counts, threshold);
  const off = Math.abs(coverageAt(histogram(state.mask), threshold) - coverage);
  // thin parts that are clipped vanish in averages, or close up: then single texels show what is kept
  const byTexels = doc.material.mode === 'mask' && off > FAR_OFF * coverage;
  const shown = byTexels ? { ...state, mask: samples } : state;
  return {
    coverage,
    exact: scale === 1 && files.length === 0, // tips and parts are small copies
    size: { width: frame.width, height: frame.height },
    perTexel: 1 / scale,
    snags: snags.map((s) => s.text),
    png: await writePng(asShown(doc.material, shown), deflateInStrips),
    view: await writePng(withMaskAsAlpha(shown), deflateInStrips),
  };
}

/** Share of what is kept. */
const FAR_OFF = 0.25;

type ProxySource = { facts: SourceFacts; proxy: Proxy };

/** What is left of a proxy where the fit makes a far larger texture: then all is computed smaller. */
function smaller(proxy: Proxy, facts: SourceFacts, scale: number): Proxy {
  const halvings = Math.max(0, Math.floor(Math.log2(proxy.width / facts.width / scale) + 1e-6));
  if (halvings === 0) return proxy;
  const of = (rgba: Uint8Array, as: 'colour' | 'data') =>
    shrink(makePicture(proxy.width, proxy.height, rgba), halvings, as);
  const { width, height, data: rgba } = of(proxy.rgba, 'colour');
  const values = of(proxy.values, 'data').data;
  const samples = sampleTexels(makePicture(proxy.width, proxy.height, proxy.samples), halvings).data;
  return { width, height, rgba, values, samples };
}

/**
 * Proxies are halved until they are small, so pictures of different size may come out equal: keep the difference, as far
 * as that stays small.
 */
function atScaleOf(first: ProxySource, source: ProxySource, rgba: Uint8Array, scale: number, most: number): Picture {
  const picture = makePicture(source.proxy.width, source.proxy.height, rgba);
  const side = (length: number) => Math.min(2 * most, Math.max(1, Math.round(length * scale)));
  const width = side(source.facts.width);
  const height = side(source.facts.height);
  const sameSize = source.facts.width === first.facts.width && source.facts.height === first.facts.height;
  return sameSize ? picture : resize(picture, width, height);
}

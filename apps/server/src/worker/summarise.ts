import {
  coverageAt,
  evaluateRun,
  findSnags,
  halvePicture,
  makePicture,
  resize,
  summariseMask,
  thresholdByte,
  withMaskAsAlpha,
  writePng,
  type Picture,
  type PieceDoc,
  type RunState,
} from '@lithe-sieve/core';
import { decodeTips } from './decode-tips.ts';
import { deflateInStrips } from './node-platform.ts';
import type { Summarised, SummariseTask } from './tasks.ts';

/** The piece at proxy size: its picture for the Stock, how much is kept, its snags. */
export async function summarise({ doc, sources, strokes, tips: files }: SummariseTask): Promise<Summarised> {
  const [first] = sources;
  const tips = await decodeTips(files);
  const state = evaluateRun(doc.run, {
    sources: sources.map((s) => ({ id: s.id, sha256: s.sha256, place: s.place, picture: atScaleOf(first, s) })),
    strokes: new Map(strokes.map((s) => [s.id, s])),
    tip: (sha256) => tips.get(sha256),
    scale: first.proxy.width / first.facts.width,
  });
  const { levels, border, middle } = summariseMask([state.mask]);
  const facts = new Map(sources.map((s) => [s.sha256, s.facts]));
  const { counts } = levels[0];
  const snags = findSnags({ doc, facts, counts, border, middle });
  return {
    coverage: coverageAt(counts, thresholdByte(doc.material.cutoff, doc.material.opacity)),
    snags: snags.map((s) => s.text),
    png: await writePng(asShown(doc, state), deflateInStrips),
  };
}

/** Proxies are halved until they are small, so pictures of different size may come out equal: keep the difference. */
function atScaleOf(first: SummariseTask['sources'][number], source: SummariseTask['sources'][number]): Picture {
  const picture = makePicture(source.proxy.width, source.proxy.height, source.proxy.rgba);
  const scale = first.proxy.width / first.facts.width;
  const width = Math.max(1, Math.round(source.facts.width * scale));
  const height = Math.max(1, Math.round(source.facts.height * scale));
  const sameSize = source.facts.width === first.facts.width && source.facts.height === first.facts.height;
  return sameSize ? picture : resize(picture, width, height);
}

function asShown({ material }: PieceDoc, { colour, mask }: RunState): Picture {
  const threshold = thresholdByte(material.cutoff, material.opacity);
  const clipped = mask.data.map((alpha) => {
    if (material.mode === 'blend') return alpha * material.opacity;
    return material.mode === 'opaque' || alpha >= threshold ? 255 : 0;
  });
  return halvePicture(withMaskAsAlpha({ colour, mask: { ...mask, data: clipped } }));
}

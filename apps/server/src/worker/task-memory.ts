import { sceneBytes, texelsAtMost } from '@lithe-sieve/core';
import { decodingBytes, handOffBytes, meshBytes, runBytesPerTexel, SMALL_BYTES } from '@lithe-sieve/host';
import { summaryScale } from './summary-scale.ts';
import type { SummariseTask, Task } from './tasks.ts';

/** For a source as it comes to a summary: as light, as values, as samples. */
const PROXY_BYTES_PER_TEXEL = 12;

/** About the peak memory of a task, by what its files hold. @throws SieveError for a file that is none. */
export function memoryOf(task: Task): number {
  switch (task.kind) {
    case 'inspect':
      return decodingBytes(task.bytes) + (task.side ? PROXY_BYTES_PER_TEXEL * task.side * task.side : 0);
    case 'read-mesh':
      return meshBytes(task.bytes);
    case 'hand-off':
      return handOffBytes(task);
    case 'summarise':
      return summaryBytes(task);
    case 'draw-demo':
      return 4 * SMALL_BYTES;
    default:
      return SMALL_BYTES;
  }
}

/** At the size of a summary, whatever the document says of sizes. */
function summaryBytes({ doc, sources, tips, side }: SummariseTask): number {
  const [first] = sources;
  if (!first) return SMALL_BYTES;
  const scale = summaryScale(doc, first, side);
  const texels = texelsAtMost(doc.run, first.facts, doc.cardWidth) * scale * scale;
  const proxies = [...sources.map((s) => s.proxy), ...tips.map((t) => t.proxy)];
  const held = proxies.reduce((sum, p) => sum + PROXY_BYTES_PER_TEXEL * ('kind' in p ? texels : p.width * p.height), 0);
  const scenes = proxies.reduce((sum, p) => sum + ('kind' in p ? sceneBytes(p) : 0), 0);
  return SMALL_BYTES + held + scenes + runBytesPerTexel(doc) * 2 * texels;
}

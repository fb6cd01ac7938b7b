import type { PieceDoc } from '@lithe-sieve/core';
import { asStorageError, StorageError } from '../../db/storage-error.ts';
import { notFound } from '../../studio-error.ts';
import { PROXY_SIDE } from '../../worker/inspect.ts';
import type { WorkerPool } from '../../worker/pool.ts';
import type { Proxy, Summarised } from '../../worker/tasks.ts';
import type { SourcesService } from '../sources/sources.service.ts';
import type { MeshesService } from '../meshes/meshes.service.ts';
import type { PiecesService } from './pieces.service.ts';

/** Texels that the longer side of a picture has at the least, as far as there are as many. */
const PICTURE_SIDE = 256;
/** Proxies are made so much larger for it at the most. */
const MOST_LARGER = 4;

/** Computes what the Stock shows of a document, in a thread. */
export class SummaryMaker {
  constructor(
    private readonly pool: WorkerPool,
    private readonly pieces: PiecesService,
    private readonly sources: SourcesService,
    private readonly meshes: MeshesService,
  ) {}

  /** A trim leaves a speck of the small copies that are kept: its picture is made of larger ones, where that can be done. */
  async make(doc: PieceDoc, signal: AbortSignal): Promise<Summarised> {
    const byHand = await this.pieces.byHandSmall(doc);
    const mesh = doc.mesh && (await this.meshes.factsOf(doc.mesh.sha256));
    const from = async (side?: number) => {
      const sources = await this.proxiesOf(doc, signal, side);
      return this.pool.run(
        { kind: 'summarise', doc, sources, ...byHand, ...(mesh && { mesh }), ...(side && { side }) },
        { signal },
      );
    };
    const made = await from();
    const longer = Math.max(made.size.width, made.size.height) / made.perTexel;
    const larger = 2 ** Math.ceil(Math.log2(Math.min(PICTURE_SIDE / longer, made.perTexel, MOST_LARGER)));
    if (!(larger > 1)) return made;
    return from(larger * PROXY_SIDE).catch((error: unknown) => {
      if (signal.aborted || asStorageError(error) instanceof StorageError) throw error;
      return made;
    });
  }

  /** @param side - Of larger ones than are kept. */
  private async proxiesOf(doc: PieceDoc, signal: AbortSignal, side?: number) {
    const facts = await this.sources.factsOfDoc(doc);
    const sha256s = [...new Set(doc.sources.filter((s) => !s.recipe).map((s) => s.sha256))];
    const proxies = new Map<string, Proxy>();
    for (const sha256 of sha256s) {
      proxies.set(
        sha256,
        await (side ? this.sources.largerProxyOf(sha256, side, signal) : this.sources.proxyOf(sha256)),
      );
    }
    return doc.sources.map(({ id, sha256, place, recipe }) => {
      const [known, proxy] = [facts.get(sha256), recipe ?? proxies.get(sha256)];
      if (!known || !proxy) throw notFound('source');
      return { id, sha256, place, facts: known, proxy };
    });
  }
}

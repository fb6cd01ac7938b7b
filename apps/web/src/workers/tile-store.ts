import { FULL_COVERAGE, TILE, type Overlay, type OverlayTile } from '@lithe-sieve/core';
import { deflateSync, inflateSync } from 'fflate';
import { openDB, type DBSchema, type IDBPDatabase } from 'idb';
import { inTime } from '../document/patience';

/** What the strokes of one step came to, at one size. */
interface Manifest {
  /** Digest of the strokes that the tiles hold, see core's `keysOfStrokes`. */
  key: number;
  across: number;
  down: number;
  savedAt: number;
}

interface Schema extends DBSchema {
  manifests: { key: string; value: Manifest };
  tiles: { key: [step: string, index: number]; value: Uint8Array };
}

/** Steps whose tiles are kept; of others the strokes are redrawn. */
const MOST_STEPS = 24;
const PLANE = TILE * TILE;

/**
 * Tiles of overlays in the browser's own storage, so that a step of thousands of strokes is there at once. Only what
 * changed since the last time is written. A cache and no more: without it the strokes give the same tiles.
 */
export class TileStore {
  private db: Promise<IDBPDatabase<Schema>> | null = null;
  private readonly saved = new Map<string, Overlay>();

  /** Storage that does not answer is a cache that is empty. */
  private open(): Promise<IDBPDatabase<Schema>> {
    return (this.db ??= inTime(
      openDB<Schema>('lithe-sieve tiles', 1, {
        upgrade(db) {
          db.createObjectStore('manifests');
          db.createObjectStore('tiles');
        },
      }),
    ));
  }

  /** @returns the overlay and the key of its strokes; null where there is none that can be read. */
  async load(step: string): Promise<{ key: number; overlay: Overlay } | null> {
    try {
      const db = await this.open();
      const transaction = db.transaction(['manifests', 'tiles']);
      const manifest = await transaction.objectStore('manifests').get(step);
      if (!manifest) return null;
      const range = IDBKeyRange.bound([step, 0], [step, Infinity]);
      const [keys, values] = await Promise.all([
        transaction.objectStore('tiles').getAllKeys(range),
        transaction.objectStore('tiles').getAll(range),
      ]);
      const tiles = new Array<OverlayTile | null>(manifest.across * manifest.down).fill(null);
      for (const [i, [, index]] of keys.entries()) tiles[index] = unpackTile(values[i]);
      const overlay = { across: manifest.across, down: manifest.down, tiles };
      this.saved.set(step, overlay);
      return { key: manifest.key, overlay };
    } catch {
      return null; // a damaged cache costs time, nothing else
    }
  }

  async save(step: string, key: number, overlay: Overlay): Promise<void> {
    const before = this.saved.get(step);
    const changed = overlay.tiles.flatMap((tile, index) => (tile === (before?.tiles[index] ?? null) ? [] : [index]));
    const packed = changed.map((index) => {
      const tile = overlay.tiles[index];
      return tile && packTile(tile);
    });
    const { across, down } = overlay;
    const transaction = (await this.open()).transaction(['manifests', 'tiles'], 'readwrite');
    const [manifests, tiles] = [transaction.objectStore('manifests'), transaction.objectStore('tiles')];
    if (!before) void tiles.delete(IDBKeyRange.bound([step, 0], [step, Infinity]));
    for (const [i, index] of changed.entries()) {
      const bytes = packed[i];
      if (bytes) void tiles.put(bytes, [step, index]);
      else void tiles.delete([step, index]);
    }
    void manifests.put({ key, across, down, savedAt: Date.now() }, step);
    await transaction.done;
    this.saved.set(step, overlay);
    await this.dropOldest();
  }

  private async dropOldest(): Promise<void> {
    const db = await this.open();
    const steps = await db.getAllKeys('manifests');
    if (steps.length <= MOST_STEPS) return;
    const ages = await Promise.all(steps.map(async (s) => ({ s, at: (await db.get('manifests', s))?.savedAt ?? 0 })));
    for (const { s } of ages.sort((a, b) => a.at - b.at).slice(0, steps.length - MOST_STEPS)) {
      await db.delete('tiles', IDBKeyRange.bound([s, 0], [s, Infinity]));
      await db.delete('manifests', s);
      this.saved.delete(s);
    }
  }
}

/** Both planes; of a tile that is cut or restored whole, one byte. */
export function packTile({ keep, add }: OverlayTile): Uint8Array {
  if (keep.every((v) => v === 0)) {
    if (add.every((v) => v === 0)) return Uint8Array.of(0);
    if (add.every((v) => v === FULL_COVERAGE)) return Uint8Array.of(1);
  }
  const planes = new Uint16Array(2 * PLANE);
  planes.set(keep);
  planes.set(add, PLANE);
  return deflateSync(new Uint8Array(planes.buffer), { level: 1 });
}

export function unpackTile(bytes: Uint8Array): OverlayTile {
  if (bytes.length === 1) {
    return { keep: new Uint16Array(PLANE), add: new Uint16Array(PLANE).fill(bytes[0] === 1 ? FULL_COVERAGE : 0) };
  }
  const planes = new Uint16Array(inflateSync(bytes, { out: new Uint8Array(4 * PLANE) }).buffer);
  return { keep: planes.slice(0, PLANE), add: planes.slice(PLANE) };
}

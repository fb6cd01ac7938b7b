import { Zip, ZipPassThrough } from 'fflate';

/** A file on its way into a zip. */
export interface ZipEntry {
  name: string;
  chunks: AsyncIterable<Uint8Array> | Iterable<Uint8Array>;
}

/** Files are stored, not deflated, chunk by chunk, so that a large one never stands in memory whole. */
export async function* zipOf(files: AsyncIterable<ZipEntry> | Iterable<ZipEntry>): AsyncGenerator<Uint8Array> {
  const ready: Uint8Array[] = [];
  const zip = new Zip((error, data) => {
    if (error) throw error;
    ready.push(data);
  });
  for await (const { name, chunks } of files) {
    const entry = new ZipPassThrough(name);
    zip.add(entry);
    for await (const chunk of chunks) {
      entry.push(new Uint8Array(chunk));
      yield* ready.splice(0);
    }
    entry.push(new Uint8Array(0), true);
  }
  zip.end();
  yield* ready.splice(0);
}

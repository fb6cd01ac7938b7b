/** @param expected - Bytes of what comes out; more are left out. */
export async function inflate(parts: Uint8Array[], expected: number): Promise<Uint8Array> {
  const out = new Uint8Array(expected);
  const stream = new DecompressionStream('deflate');
  const writer = stream.writable.getWriter();
  const feeding = (async () => {
    for (const part of parts) await writer.write(part as Uint8Array<ArrayBuffer>);
    await writer.close();
  })();
  feeding.catch(() => undefined); // the reader reports it
  const reader = stream.readable.getReader();
  let at = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return out.subarray(0, at);
    const room = Math.min(value.length, expected - at);
    out.set(room < value.length ? value.subarray(0, room) : value, at);
    at += room;
    if (room < value.length) {
      void reader.cancel();
      return out;
    }
  }
}

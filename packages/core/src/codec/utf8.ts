/** Characters of a text at a time: more arguments than this overflow a call in some engines. */
const CHUNK = 8192;

/** Core has no TextEncoder; texts may hold any character. @throws URIError for half a surrogate pair. */
export function utf8(text: string): Uint8Array {
  const bytes = new Uint8Array(text.length);
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 0x7f) return escaped(text);
    bytes[i] = code;
  }
  return bytes;
}

function escaped(text: string): Uint8Array {
  const out: number[] = [];
  const all = encodeURIComponent(text);
  for (let i = 0; i < all.length; i++) {
    if (all[i] === '%') {
      out.push(Number.parseInt(all.slice(i + 1, i + 3), 16));
      i += 2;
    } else out.push(all.charCodeAt(i));
  }
  return Uint8Array.from(out);
}

/** @throws URIError where the bytes are no UTF-8. */
export function textOf(bytes: Uint8Array): string {
  let out = '';
  for (let at = 0; at < bytes.length;) {
    let end = at;
    while (end < bytes.length && end - at < CHUNK && bytes[end] < 0x80) end++;
    out += String.fromCharCode(...bytes.subarray(at, end));
    at = end;
    while (end < bytes.length && bytes[end] >= 0x80) end++;
    const others = Array.from(bytes.subarray(at, end), (byte) => `%${byte.toString(16)}`);
    out += decodeURIComponent(others.join(''));
    at = end;
  }
  return out;
}

/** Core has no TextEncoder; texts may hold any character. @throws URIError for half a surrogate pair. */
export function utf8(text: string): Uint8Array {
  const escaped = encodeURIComponent(text);
  const out: number[] = [];
  for (let i = 0; i < escaped.length; i++) {
    if (escaped[i] === '%') {
      out.push(Number.parseInt(escaped.slice(i + 1, i + 3), 16));
      i += 2;
    } else out.push(escaped.charCodeAt(i));
  }
  return Uint8Array.from(out);
}

/** @throws URIError where the bytes are no UTF-8. */
export function textOf(bytes: Uint8Array): string {
  let escaped = '';
  for (const byte of bytes) {
    const plain = byte < 0x80 && byte !== 0x25; // a % would be taken for an escape
    escaped += plain ? String.fromCharCode(byte) : `%${byte.toString(16).padStart(2, '0')}`;
  }
  return decodeURIComponent(escaped);
}

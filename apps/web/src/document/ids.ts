/** An id within a document: 12 letters and digits at random. */
export function makeId(): string {
  const bytes = crypto.getRandomValues(new Uint8Array(12));
  return Array.from(bytes, (b) => 'abcdefghijklmnopqrstuvwxyz234567'[b & 31]).join('');
}

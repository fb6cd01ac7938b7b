/** A browser may ask first where to put it: until then its address must hold. */
const HELD_MS = 60_000;

/** Hands a file to the person, as the browser does with downloads. */
export function saveFile(file: Blob, name: string): void {
  const address = URL.createObjectURL(file);
  Object.assign(document.createElement('a'), { href: address, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(address), HELD_MS);
}

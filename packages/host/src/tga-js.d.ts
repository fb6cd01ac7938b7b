/** What of it is used here. */
declare module 'tga-js' {
  export default class TgaLoader {
    header: { width: number; height: number; pixelDepth: number; flags: number };
    /** @throws Error where it is none. */
    load(bytes: Uint8Array): void;
    /** Into RGBA. */
    getImageData(into: { width: number; height: number; data: Uint8ClampedArray }): void;
  }
}

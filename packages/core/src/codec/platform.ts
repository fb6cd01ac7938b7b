/** What a host's decoder gives: 8-bit RGBA. */
export interface HostPicture {
  width: number;
  height: number;
  data: Uint8Array;
  /** What the decoder remarked on the file while it went on. */
  complaint?: string | undefined;
}

/** The heavy, host-bound work that a codec needs; the browser and the server each bring their own. */
export interface CodecPlatform {
  /**
   * Inflates one zlib stream given in parts (RFC 1950). Resolves to at most `expected` bytes, fewer when the stream
   * ends early; rejects when the stream is corrupt. Must stop reading once `expected` bytes are there.
   */
  inflate(parts: Uint8Array[], expected: number): Promise<Uint8Array>;
  /**
   * As `inflate`, a part at a time as it comes out: `take` returns whether it wants more. Where a host has none, pictures
   * are read whole.
   */
  inflateParts?(parts: Uint8Array[], take: (part: Uint8Array) => boolean): Promise<void>;
  /** Decodes a JPEG whose header was checked already to 8-bit RGBA, orientation tag obeyed. */
  decodeJpeg(bytes: Uint8Array): Promise<HostPicture>;
  /** Decodes a WebP whose container was checked already to straight 8-bit RGBA, not turned. */
  decodeWebp(bytes: Uint8Array): Promise<HostPicture>;
}

/** Compresses strips, made as they are asked for, to one zlib stream (RFC 1950). */
export type Deflate = (strips: Iterable<Uint8Array>) => Promise<Uint8Array>;

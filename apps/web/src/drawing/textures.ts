import { joinBoxes, type Box, type MapKind, type Raster, type Samples, type Wraps } from '@lithe-sieve/core';
import * as THREE from 'three';

/**
 * A texture whose mip levels are the ones given, uploaded level by level. Levels larger than the graphics card takes
 * are left out: the first that fits becomes level 0 there.
 */
export class LevelTexture {
  private texture: THREE.DataTexture | null = null;
  /** How it was sampled last, and which upload of it. */
  private sampled = '';
  /** As they were given. */
  private given: readonly Raster<Samples>[] = [];

  constructor(
    private readonly kind: MapKind,
    private readonly maxSide: number,
  ) {}

  get value(): THREE.DataTexture | null {
    return this.texture;
  }

  get levels(): readonly Raster<Samples>[] {
    return this.given;
  }

  /** @param levels - Level 0 first, down to 1 × 1. */
  set(levels: readonly Raster<Samples>[]): void {
    this.given = levels;
    const fitting = levels.filter((l) => l.width <= this.maxSide && l.height <= this.maxSide);
    const [top] = fitting;
    const mipmaps = fitting.map(({ data, width, height }) => ({ data: asTexels(data), width, height }));
    const before = this.texture?.image as { width: number; height: number } | undefined;
    if (before?.width !== top.width || before.height !== top.height) {
      this.texture?.dispose();
      this.texture = this.make(top);
    }
    const texture = this.texture!;
    texture.image = mipmaps[0];
    texture.mipmaps = mipmaps;
    texture.needsUpdate = true;
  }

  /**
   * Uploads parts of each level given, which lies in the same memory as before; the other levels stay. What is not on the
   * card yet is uploaded whole when it is drawn.
   */
  patch(renderer: THREE.WebGLRenderer, levels: readonly Raster<Samples>[], parts: readonly Box[]): void {
    const { texture } = this;
    this.given = [...levels, ...this.given.slice(levels.length)];
    const held = texture && (renderer.properties.get(texture) as { __webglTexture?: WebGLTexture; __version?: number });
    const top = texture?.mipmaps?.[0] as { width: number; height: number } | undefined;
    if (!held?.__webglTexture || held.__version !== texture!.version || !top) return this.set(this.given);
    const skipped = levels.findIndex((l) => l.width === top.width && l.height === top.height);
    if (skipped < 0) return;
    const gl = renderer.getContext() as WebGL2RenderingContext;
    renderer.state.bindTexture(gl.TEXTURE_2D, held.__webglTexture);
    gl.pixelStorei(gl.UNPACK_FLIP_Y_WEBGL, false);
    gl.pixelStorei(gl.UNPACK_ALIGNMENT, 1);
    for (const [i, level] of levels.slice(skipped).entries()) {
      const seen = joinBoxes(parts.map((part) => halved(part, i + skipped, level)));
      for (const box of seen) patchLevel(gl, level, i, box);
    }
    gl.pixelStorei(gl.UNPACK_ROW_LENGTH, 0);
    gl.pixelStorei(gl.UNPACK_SKIP_PIXELS, 0);
    gl.pixelStorei(gl.UNPACK_SKIP_ROWS, 0);
  }

  private make({ width, height }: Raster<Samples>): THREE.DataTexture {
    const { channels, holds } = this.kind;
    const texture = new THREE.DataTexture(null, width, height, FORMATS[channels], THREE.UnsignedByteType);
    if (channels === 3) texture.internalFormat = 'RGB8'; // three knows no size for it
    texture.generateMipmaps = false;
    texture.minFilter = THREE.LinearMipmapLinearFilter;
    texture.magFilter = THREE.LinearFilter;
    texture.unpackAlignment = 1;
    if (holds === 'colour') texture.colorSpace = THREE.SRGBColorSpace;
    return texture;
  }

  /** How it goes on beyond its sides, and between texels: told to the graphics alone, since three would upload it again for that. */
  sampleAs(renderer: THREE.WebGLRenderer, { across, down }: Wraps, filter: TextureFilter): void {
    const { texture } = this;
    if (!texture) return;
    const wanted = `${texture.id} ${texture.version} ${across} ${down} ${filter}`; // an upload clamps it again
    if (this.sampled === wanted) return;
    this.sampled = wanted;
    renderer.initTexture(texture);
    const held = renderer.properties.get(texture) as { __webglTexture?: WebGLTexture };
    if (!held.__webglTexture) return;
    const gl = renderer.getContext() as WebGL2RenderingContext;
    const names = { clamp: gl.CLAMP_TO_EDGE, repeat: gl.REPEAT, mirror: gl.MIRRORED_REPEAT };
    renderer.state.bindTexture(gl.TEXTURE_2D, held.__webglTexture);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_S, names[across]);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_WRAP_T, names[down]);
    const [magnified, minified] = FILTERS[filter];
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MAG_FILTER, gl[magnified]);
    gl.texParameteri(gl.TEXTURE_2D, gl.TEXTURE_MIN_FILTER, gl[minified]);
    const along = gl.getExtension('EXT_texture_filter_anisotropic');
    if (along)
      gl.texParameterf(gl.TEXTURE_2D, along.TEXTURE_MAX_ANISOTROPY_EXT, filter === 'anisotropic' ? MOST_ALONG : 1);
  }

  dispose(): void {
    this.texture?.dispose();
    this.texture = null;
  }
}

/** How a renderer reads between texels and mip levels (glTF 2.0 §3.8.4); anisotropic: trilinear, along what is seen at a slant. */
export const TEXTURE_FILTERS = ['nearest', 'linear', 'trilinear', 'anisotropic'] as const;
export type TextureFilter = (typeof TEXTURE_FILTERS)[number];
const FILTERS = {
  nearest: ['NEAREST', 'NEAREST_MIPMAP_NEAREST'],
  linear: ['LINEAR', 'LINEAR_MIPMAP_NEAREST'],
  trilinear: ['LINEAR', 'LINEAR_MIPMAP_LINEAR'],
  anisotropic: ['LINEAR', 'LINEAR_MIPMAP_LINEAR'],
} as const satisfies Record<TextureFilter, readonly [keyof WebGL2RenderingContext, keyof WebGL2RenderingContext]>;
/** Samples along a slant; devices take as many as they can. */
const MOST_ALONG = 8;

/** The part of a smaller level that a part of the full one comes to, and a texel around it. */
function halved({ x0, y0, x1, y1 }: Box, times: number, { width, height }: Raster<Samples>): Box {
  const scale = 2 ** times;
  const around = times > 0 ? 1 : 0;
  return {
    x0: Math.max(0, Math.floor(x0 / scale) - around),
    y0: Math.max(0, Math.floor(y0 / scale) - around),
    x1: Math.min(width, Math.ceil(x1 / scale) + around),
    y1: Math.min(height, Math.ceil(y1 / scale) + around),
  };
}

function patchLevel(gl: WebGL2RenderingContext, level: Raster<Samples>, index: number, { x0, y0, x1, y1 }: Box): void {
  if (x0 >= x1 || y0 >= y1) return;
  const deep = level.data instanceof Uint16Array;
  gl.pixelStorei(gl.UNPACK_ROW_LENGTH, deep ? x1 - x0 : level.width);
  gl.pixelStorei(gl.UNPACK_SKIP_PIXELS, deep ? 0 : x0);
  gl.pixelStorei(gl.UNPACK_SKIP_ROWS, deep ? 0 : y0);
  const format = [gl.RED, gl.RG, gl.RGB, gl.RGBA][level.channels - 1];
  const texels = deep ? asTexels(cutOut(level, { x0, y0, x1, y1 })) : asTexels(level.data);
  gl.texSubImage2D(gl.TEXTURE_2D, index, x0, y0, x1 - x0, y1 - y0, format, gl.UNSIGNED_BYTE, texels);
}

const FORMATS = { 1: THREE.RedFormat, 2: THREE.RGFormat, 3: THREE.RGBFormat, 4: THREE.RGBAFormat } as const;

/** The samples of a part, row by row. */
function cutOut({ width, channels, data }: Raster<Samples>, { x0, y0, x1, y1 }: Box): Samples {
  const row = channels * (x1 - x0);
  const out = new Uint16Array(row * (y1 - y0));
  for (let y = y0, o = 0; y < y1; y++, o += row) {
    const from = channels * (y * width + x0);
    out.set(data.subarray(from, from + row), o);
  }
  return out;
}

/** Samples as a texture takes them: 8 bits are what a screen shows, and WebGL 2 filters no 16-bit integers. */
function asTexels(data: Samples): Uint8Array<ArrayBuffer> {
  if (data instanceof Uint8Array) return data as Uint8Array<ArrayBuffer>;
  const out = new Uint8Array(data.length);
  for (let i = 0; i < out.length; i++) out[i] = (data[i] * 255 + 32895) >>> 16;
  return out;
}

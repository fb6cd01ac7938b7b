import {
  decodePicture,
  LIMITS,
  makePicture,
  SieveError,
  toRgba8,
  writePng,
  type CodecPlatform,
  type Deflate,
  type Picture,
  type SourcePlace,
} from '@lithe-sieve/core';
import { XMLParser } from 'fast-xml-parser';
import { unzipSync, zlibSync } from 'fflate';

/** One picture of a layered file, as a file of its own. */
export interface Layer {
  name: string;
  png: Uint8Array;
  /** Where it lies on the canvas; null for one that is the canvas. */
  place: SourcePlace | null;
}

const MOST_LAYERS = 64;
const MOST_ENTRIES = 512;
const MOST_XML_BYTES = 1 << 20;
const SAVE_AGAIN = 'Save the file again, or bring its layers in as PNG.';

interface Placed {
  name: string;
  src: string;
  x: number;
  y: number;
  opacity: number;
}

const corrupt = (what: string) => new SieveError('corrupt', `The layered file ${what}.`, SAVE_AGAIN);

/** A zip whose first entry is called `mimetype` and says OpenRaster. */
export function isOpenRaster(bytes: Uint8Array): boolean {
  const text = (from: number, to: number) => String.fromCharCode(...bytes.subarray(from, to));
  return bytes.length > 54 && text(0, 2) === 'PK' && text(30, 38) === 'mimetype' && text(38, 54) === 'image/openraster';
}

/**
 * The pictures of an OpenRaster file (OpenRaster 0.0.5): the merged image first, then every layer from the top, in
 * its own size with its place on the canvas, its opacity multiplied into alpha; without a merged image the first layer
 * stands for it, on the whole canvas. Blending modes other than plain ones are not
 * applied to single layers; the merged image has them.
 *
 * Of the zip only the entries that the stack names are unpacked, and none that claims more than a picture may have:
 * names are looked up, never used as paths.
 *
 * @throws {@link SieveError} `corrupt`, `too-large`, and those of the PNG reader.
 */
export async function openRasterLayers(bytes: Uint8Array, platform: CodecPlatform): Promise<Layer[]> {
  const entries = unpack(bytes);
  const xml = entries.get('stack.xml');
  if (!xml || xml.length > MOST_XML_BYTES) throw corrupt('lacks its list of layers (stack.xml)');
  const { width, height, layers } = readStack(new TextDecoder().decode(xml));
  const out: Layer[] = [];
  const merged = entries.get('mergedimage.png');
  if (merged) out.push({ name: 'merged', png: merged, place: null });
  for (const layer of layers) {
    const png = entries.get(layer.src);
    if (!png) throw corrupt(`names a layer that is not in it (${layer.name})`);
    const { name, x, y, opacity } = layer;
    if (out.length === 0) {
      const { raster } = await decodePicture(png, platform);
      const canvas = placeOnCanvas(faded(toRgba8(raster), opacity), layer, width, height);
      out.push({ name, png: await writePng(canvas, deflateHere), place: null });
    } else if (opacity < 1) {
      const { raster } = await decodePicture(png, platform);
      out.push({ name, png: await writePng(faded(toRgba8(raster), opacity), deflateHere), place: { x, y } });
    } else out.push({ name, png, place: { x, y } });
  }
  return out;
}

/** For pictures that are made here; those that are handed off are written on the server. */
export const deflateHere: Deflate = (strips) => Promise.resolve(zlibSync(joined(strips), { level: 4 }));

function joined(strips: Iterable<Uint8Array>): Uint8Array {
  const all = [...strips];
  const out = new Uint8Array(all.reduce((sum, s) => sum + s.length, 0));
  let at = 0;
  for (const strip of all) {
    out.set(strip, at);
    at += strip.length;
  }
  return out;
}

/** Entries by name; sizes are those that the zip claims, checked before anything is unpacked. */
function unpack(bytes: Uint8Array): Map<string, Uint8Array> {
  let seen = 0;
  let total = 0;
  try {
    const found = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (++seen > MOST_ENTRIES) throw corrupt('holds too many entries');
        const wanted = name === 'stack.xml' || name === 'mergedimage.png' || /^data\/[^/\\]+\.png$/.test(name);
        if (wanted) total += originalSize;
        if (total > LIMITS.fileBytes) {
          throw new SieveError('too-large', 'The layered file unpacks to more than a source may have.', SAVE_AGAIN);
        }
        return wanted;
      },
    });
    return new Map(Object.entries(found));
  } catch (error) {
    if (error instanceof SieveError) throw error;
    throw corrupt('is a damaged zip');
  }
}

interface StackNode {
  '@_name'?: string;
  '@_src'?: string;
  '@_x'?: string;
  '@_y'?: string;
  '@_opacity'?: string;
  '@_visibility'?: string;
  stack?: StackNode[];
  layer?: StackNode[];
}

function readStack(xml: string): { width: number; height: number; layers: Placed[] } {
  const parser = new XMLParser({
    ignoreAttributes: false,
    processEntities: false,
    isArray: (name) => name === 'layer' || name === 'stack',
  });
  let image: (StackNode & { '@_w'?: string; '@_h'?: string }) | undefined;
  try {
    image = (parser.parse(xml, true) as { image?: typeof image }).image;
  } catch {
    throw corrupt('has a list of layers that cannot be read');
  }
  const [width, height] = [Number(image?.['@_w']), Number(image?.['@_h'])];
  const sane = Number.isInteger(width) && Number.isInteger(height) && width > 0 && height > 0;
  if (!image || !sane || width > LIMITS.side || height > LIMITS.side || width * height > LIMITS.texels) {
    throw corrupt(`claims ${image?.['@_w'] ?? '?'} × ${image?.['@_h'] ?? '?'} texels`);
  }
  const layers: Placed[] = [];
  collect(image, { x: 0, y: 0, opacity: 1 }, layers);
  if (layers.length > MOST_LAYERS) throw corrupt(`holds ${layers.length} layers; ${MOST_LAYERS} are read`);
  return { width, height, layers };
}

/** Stacks may lie in stacks: offsets add up, opacities multiply. */
function collect(node: StackNode, onto: Pick<Placed, 'x' | 'y' | 'opacity'>, out: Placed[]): void {
  for (const inner of node.stack ?? []) collect(inner, shifted(inner, onto), out);
  for (const layer of node.layer ?? []) {
    const src = layer['@_src'];
    if (src) out.push({ name: layer['@_name'] || `layer ${out.length + 1}`, src, ...shifted(layer, onto) });
  }
}

function shifted(node: StackNode, onto: Pick<Placed, 'x' | 'y' | 'opacity'>): Pick<Placed, 'x' | 'y' | 'opacity'> {
  const number = (text: string | undefined, otherwise: number) => {
    const value = Number(text ?? otherwise);
    return Number.isFinite(value) ? value : otherwise;
  };
  return {
    x: onto.x + Math.round(number(node['@_x'], 0)),
    y: onto.y + Math.round(number(node['@_y'], 0)),
    opacity: onto.opacity * Math.min(1, Math.max(0, number(node['@_opacity'], 1))),
  };
}

function faded({ width, height, data }: Picture, opacity: number): Picture {
  const out = data.slice();
  if (opacity < 1) for (let i = 3; i < out.length; i += 4) out[i] = Math.floor(out[i] * opacity + 0.5);
  return makePicture(width, height, out);
}

function placeOnCanvas(layer: Picture, { x, y }: Placed, width: number, height: number): Picture {
  const out = new Uint8Array(4 * width * height);
  const from = Math.max(0, -x);
  const columns = Math.min(layer.width - from, width - Math.max(0, x));
  for (let row = Math.max(0, -y); row < layer.height && row + y < height && columns > 0; row++) {
    const start = 4 * (row * layer.width + from);
    out.set(layer.data.subarray(start, start + 4 * columns), 4 * ((row + y) * width + Math.max(0, x)));
  }
  return makePicture(width, height, out);
}

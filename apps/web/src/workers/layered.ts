import {
  declaredSize,
  decodePicture,
  LIMITS,
  makePicture,
  SieveError,
  toRgba8,
  writePng,
  type CodecPlatform,
  type SourcePlace,
} from '@lithe-sieve/core';
import { XMLParser } from 'fast-xml-parser';
import { unzipSync } from 'fflate';
import { deflateHere } from './deflate-here';

/** One picture of a layered file, as a file of its own. */
export interface Layer {
  name: string;
  png: Uint8Array;
  /** Where it lies on the first one; null for that one. */
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
 * The pictures of an OpenRaster file (OpenRaster 0.0.5): the merged image first, then every layer from the top, in its
 * own size with its place on the first one, its opacity multiplied into alpha. The specification asks for a merged image;
 * where there is none the largest layer comes first. Blending modes other than plain ones are not applied to single
 * layers; the merged image has them.
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
  const layers = readStack(new TextDecoder().decode(xml)).map((layer) => {
    const png = entries.get(layer.src);
    if (!png) throw corrupt(`names a layer that is not in it (${layer.name})`);
    return { ...layer, png };
  });
  const merged = entries.get('mergedimage.png');
  const base = merged ? null : largest(layers);
  const out: Layer[] = merged ? [{ name: 'merged', png: merged, place: null }] : [];
  for (const layer of base ? [base, ...layers.filter((l) => l !== base)] : layers) {
    const png = layer.opacity < 1 ? await faded(layer.png, layer.opacity, platform) : layer.png;
    const place = layer === base ? null : { x: layer.x - (base?.x ?? 0), y: layer.y - (base?.y ?? 0) };
    out.push({ name: layer.name, png, place });
  }
  return out;
}

function largest<L extends { png: Uint8Array }>(layers: readonly L[]): L | null {
  const texels = ({ png }: L) => {
    const { width, height } = declaredSize(png);
    return width * height;
  };
  return layers.reduce<L | null>((best, layer) => (best && texels(best) >= texels(layer) ? best : layer), null);
}

async function faded(png: Uint8Array, opacity: number, platform: CodecPlatform): Promise<Uint8Array> {
  const { width, height, data } = toRgba8((await decodePicture(png, platform)).raster);
  const out = data.slice();
  for (let i = 3; i < out.length; i += 4) out[i] = Math.floor(out[i] * opacity + 0.5);
  return writePng(makePicture(width, height, out), deflateHere);
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

function readStack(xml: string): Placed[] {
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
  return layers;
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

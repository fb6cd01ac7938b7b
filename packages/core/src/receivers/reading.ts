import { thresholdByte } from '../math/threshold.ts';
import { toRgba8 } from '../raster/to-rgba8.ts';
import { readStrictGlb, readStrictGltf } from './strict-glb.ts';
import { makeMask, type Mask, type Raster, type Samples } from '../raster/raster.ts';
import type { Received, ReceivedFile, ReceiveTools, Shown } from './receiver.ts';
import { levelsBy, alphaOf, channelOf, turnedOver } from './alphas.ts';

export const fileAs = ({ files }: Received, as: ReceivedFile['as']) => files.find((f) => f.as === as);
export const isFlat = (received: Received) => fileAs(received, 'scene') === undefined;

/** A picture of the files by its slot. */
export async function read(
  received: Received,
  as: ReceivedFile['as'],
  tools: ReceiveTools,
): Promise<{ file: ReceivedFile; levels: Raster<Samples>[] }> {
  const file = fileAs(received, as);
  if (!file) throw new Error(`no file is a ${as} picture.`);
  return { file, levels: await tools.decode(file.bytes, file.name) };
}

export async function colourOf(received: Received, tools: ReceiveTools): Promise<Raster<Samples>[]> {
  return fileAs(received, 'colour') ? (await read(received, 'colour', tools)).levels : [];
}

/** Colour and opacity by the way the target has them. */
export async function plainly(
  received: Received,
  tools: ReceiveTools,
): Promise<{ levels: Raster<Samples>[]; mask: Mask; name: string }> {
  const levels = await colourOf(received, tools);
  const { name } = fileAs(received, 'colour')!;
  const own = fileAs(received, 'mask');
  const { opacity, channel } = received.target;
  if (own && !own.isField && (opacity === 'mask picture' || opacity === 'transparency picture')) {
    const { masks } = await throughMask(received, tools, opacity === 'transparency picture');
    return { levels, mask: masks[0], name };
  }
  if (opacity === 'a channel' && channel) {
    const file = received.files.find((f) => f.slot === channel.file);
    const raster = file && (await tools.decode(file.bytes, file.name))[0];
    if (raster && channel.channel < raster.channels) return { levels, mask: channelOf(raster, channel.channel), name };
  }
  return { levels, mask: alphaOf(levels[0]), name };
}

export async function throughMask(received: Received, tools: ReceiveTools, inverted: boolean): Promise<Shown> {
  const colours = await colourOf(received, tools);
  const { file, levels } = await read(received, 'mask', tools);
  const mask = channelOf(levels[0], 0);
  return shown(received, colours, inverted ? turnedOver(mask) : mask, {
    did: inverted ? `${file.name} says what is dropped.` : `${file.name} says what is kept.`,
    remedy: inverted
      ? 'Write the mask inverted (a channel with 1 −), or choose a target that reads white as kept.'
      : 'Write the mask as it is, white for kept, or choose a target that reads transparency.',
  });
}

export async function throughGlb(
  received: Received,
  tools: ReceiveTools,
  did: string,
  saysMore = true,
): Promise<Shown> {
  const file = fileAs(received, 'scene')!;
  const beside = (name: string) => received.files.find((f) => f.name === name)?.bytes ?? null;
  const glb = /\.gltf$/i.test(file.name) ? readStrictGltf(file.bytes, beside) : readStrictGlb(file.bytes);
  const mode = glb.alphaMode.toLowerCase() as Received['material']['mode'];
  const material = { mode, cutoff: glb.alphaCutoff, opacity: glb.opacity, doubleSided: glb.doubleSided };
  const levels = glb.baseColour ? await tools.decode(glb.baseColour.bytes, 'base.png') : [];
  const mask = levels[0] ? alphaOf(levels[0]) : makeMask(1, 1, Uint8Array.of(255));
  return shown({ ...received, material }, levels, mask, {
    did: `${did}${saysMore && glb.extensions.length > 0 ? extensionWords(glb.extensions) : ''}`,
    remedy: 'Write the file again: its material is not that of the piece.',
  });
}

/** What of a material a reader of plain glTF 2.0 leaves out. */
function extensionWords(extensions: readonly string[]): string {
  const names = extensions.map((name) => name.replace(/^KHR_(materials_)?/, '').replaceAll('_', ' '));
  return ` Where it does not know them, it leaves out: ${names.join(', ')}.`;
}

/** Levels as this target makes them of the largest. */
export function shown(
  { material: { mode, cutoff, opacity }, makes }: Received,
  colours: readonly Raster<Samples>[],
  mask: Mask,
  { did, remedy }: { did: string; remedy: string },
): Shown {
  return {
    colour: colours[0] ? toRgba8(colours[0]) : null,
    masks: [mask, ...levelsBy(mask, makes)],
    threshold: mode === 'mask' ? thresholdByte(cutoff, opacity) : mode === 'opaque' ? 0 : 1,
    did,
    remedy,
  };
}

import { FIELD_THRESHOLD, magnified } from '../sieve/distance-field.ts';
import { thresholdByteReadAsColour } from '../sieve/read-as-colour.ts';
import { resize } from '../raster/resize.ts';
import { PACKED_AS } from '../piece/packing.ts';
import { MIP_FILTERS, type MipFilter } from '../sieve/mip-filters.ts';
import type { Received, Receiver, ReceiveTools } from './receiver.ts';
import { fieldLevels, levelsBy, hasAlpha, alphaOf, whole, channelOf, madeLinear, oneBit } from './alphas.ts';
import { SCENE_RECEIVERS } from './scenes.ts';
import { fileAs, isFlat, read, colourOf, plainly, throughMask, throughGlb, shown } from './reading.ts';

const from = (received: Received, ...ways: Received['target']['opacity'][]) =>
  isFlat(received) && ways.includes(received.target.opacity);

/** Whether a scene of glTF is there, in one file or apart. */
const isGltf = (received: Received) => /\.gl(b|tf)$/i.test(fileAs(received, 'scene')?.name ?? '');

/** Colour whose opacity is no distances, whose levels mean nothing else. */
const hasPlainColour = (received: Received) =>
  isFlat(received) && fileAs(received, 'colour') !== undefined && !fileAs(received, 'mask')?.isField;

/** Simulated importers. A new one is an entry here. */
export const RECEIVERS: readonly Receiver[] = [
  {
    id: 'alpha-of-colour',
    label: 'Reads the alpha of the colour',
    rule: 'Opacity is the alpha of the colour picture. A picture without alpha is opaque.',
    isMeant: (received) => from(received, 'alpha of the colour') && received.target.levels !== 'file',
    applies: (received) => fileAs(received, 'colour') !== undefined,
    async reads(received, tools) {
      const { file, levels } = await read(received, 'colour', tools);
      return shown(received, levels, alphaOf(levels[0]), {
        did: hasAlpha(levels[0])
          ? `It takes the alpha of ${file.name}.`
          : `${file.name} carries no alpha: all is kept.`,
        remedy:
          'Put opacity into the alpha of the colour, white for kept, or choose a target that takes it from a mask.',
      });
    },
  },
  {
    id: 'alpha-of-32-bits',
    label: 'Takes alpha of 32 bits alone',
    rule: 'A TGA has alpha where it has 32 bits and its header says that 8 of them are; of 24 bits it is opaque.',
    isMeant: (received) =>
      from(received, 'alpha of the colour') && /\.tga$/i.test(fileAs(received, 'colour')?.name ?? ''),
    applies: (received) => /\.tga$/i.test(fileAs(received, 'colour')?.name ?? ''),
    async reads(received, tools) {
      const { file, levels } = await read(received, 'colour', tools);
      const [bits, attributes] = [file.bytes[16], file.bytes[17] & 15];
      const has = bits === 32 && attributes === 8;
      return shown(received, levels, has ? alphaOf(levels[0]) : whole(levels[0]), {
        did: `${file.name} has ${bits} bits, ${attributes} of them alpha${has ? '' : ': all is kept'}.`,
        remedy: 'Write it as RGBA: 32 bits.',
      });
    },
  },
  {
    id: 'mask-picture',
    label: 'Reads a mask picture',
    rule: 'Opacity is a picture of its own, its luminance read as data: white is kept.',
    isMeant: (received) =>
      from(received, 'mask picture') && received.target.levels !== 'file' && !fileAs(received, 'mask')?.isField,
    applies: (received) => fileAs(received, 'mask') !== undefined && !fileAs(received, 'mask')?.isField,
    reads: (received, tools) => throughMask(received, tools, false),
  },
  {
    id: 'transparency-picture',
    label: 'Reads a transparency picture',
    rule: 'A picture of its own says how transparent each texel is: white is dropped.',
    isMeant: (received) => from(received, 'transparency picture'),
    applies: (received) => fileAs(received, 'mask') !== undefined && !fileAs(received, 'mask')?.isField,
    reads: (received, tools) => throughMask(received, tools, true),
  },
  {
    id: 'mask-as-colour',
    label: 'Takes the mask for a colour',
    rule: 'The mask is taken for sRGB and made linear before it is clipped, as a picture is that nobody marked as data.',
    isMeant: () => false,
    applies: (received) => fileAs(received, 'mask') !== undefined && !fileAs(received, 'mask')?.isField,
    async reads(received, tools) {
      const read = await throughMask(received, tools, false);
      const { mode, cutoff, opacity } = received.material;
      const threshold = mode === 'mask' ? thresholdByteReadAsColour(cutoff, opacity) : read.threshold;
      const name = fileAs(received, 'mask')!.name;
      return {
        ...read,
        // a clip is compared in bytes, where making linear would round; a blend shows what comes out
        ...(mode === 'blend' ? { masks: read.masks.map(madeLinear) } : {}),
        threshold,
        did: `${name} is made linear before the clip: soft edges shrink.`,
        remedy: `Have ${name} read as data (linear, no sRGB) in the target.`,
      };
    },
  },
  {
    id: 'packed-channel',
    label: 'Reads a channel of a packed file',
    rule: 'Opacity is one channel of a file, read as data: white is kept.',
    isMeant: (received) => from(received, 'a channel') && received.target.levels !== 'file',
    applies: (received) => isFlat(received) && received.target.channel !== undefined,
    async reads(received, tools) {
      const { file: name, channel } = received.target.channel!;
      const file = received.files.find((f) => f.slot === name);
      if (!file) throw new Error(`no file is called ${name}.`);
      const [raster] = await tools.decode(file.bytes, file.name);
      const letter = PACKED_AS.RGBA[channel];
      const mask = channel < raster.channels ? channelOf(raster, channel) : whole(raster);
      return shown(received, await colourOf(received, tools), mask, {
        did:
          channel < raster.channels
            ? `It takes ${letter} of ${file.name}.`
            : `${file.name} has no ${letter}: all is kept.`,
        remedy: `Put opacity into ${letter} of ${name}, not inverted, or say in the target which channel holds it.`,
      });
    },
  },
  {
    id: 'file-levels',
    label: 'Takes the levels of the file',
    rule: 'Each mip level is taken as it stands in the file, out of its blocks; none is made.',
    isMeant: (received) => received.target.levels === 'file' && isFlat(received),
    applies: (received) => received.files.some((f) => f.as === 'colour' && /\.(dds|ktx2)$/i.test(f.name)),
    async reads(received, tools) {
      const { file, levels, masks } = await levelsOfFile(received, tools);
      return {
        ...shown(received, await colourOf(received, tools), masks[0], {
          did: `It takes the ${levels.length} levels of ${file.name}.`,
          remedy: 'Write the file again; choose another block format if texels change side.',
        }),
        masks,
      };
    },
  },
  {
    id: 'one-bit',
    label: 'Keeps one bit of alpha',
    rule: 'Alpha is cut at one half when the file is read: blocks with one bit of alpha hold no more.',
    isMeant: (received) =>
      received.files.some((f) => f.as === 'colour' && /\.(dds|ktx2)$/i.test(f.name)) && received.target.oneBit === true,
    applies: (received) => fileAs(received, 'colour') !== undefined,
    async reads(received, tools) {
      const { file, levels } = await read(received, 'colour', tools);
      const masks = levels.map((level) => oneBit(alphaOf(level)));
      const read1 = shown(received, levels, masks[0], {
        did: `The alpha of ${file.name} is 0 or 1 from here on, cut at one half.`,
        remedy: 'Write 1-bit blocks from here, where the clip is exact, or set the cutoff to 0.5.',
      });
      return levels.length > 1 ? { ...read1, masks } : read1;
    },
  },
  {
    id: 'distances',
    label: 'Magnifies distances',
    rule: 'The mask is magnified between its texels and clipped at 0.5, whatever the cutoff was.',
    isMeant: (received) => fileAs(received, 'mask')?.isField === true,
    applies: (received) => fileAs(received, 'mask')?.isField === true,
    async reads(received, tools) {
      const colours = await colourOf(received, tools);
      const { file, levels } = await read(received, 'mask', tools);
      const { width, height } = colours[0] ?? levels[0];
      const field = channelOf(levels[0], 0);
      const mask = magnified(field, width, height);
      return {
        ...shown(received, colours, mask, {
          did: `${file.name} is magnified to ${width} × ${height} and clipped at 0.5: thin parts and corners are rounder.`,
          remedy: 'Choose distances of a larger size.',
        }),
        masks: fieldLevels(field, mask),
        threshold: received.material.mode === 'mask' ? FIELD_THRESHOLD : 0,
      };
    },
  },
  {
    id: 'strict-gltf',
    label: 'Reads glTF strictly',
    rule: 'Mode, cutoff and sides are those of the material; extensions that it requires are refused.',
    isMeant: isGltf,
    applies: isGltf,
    reads: (received, tools) => throughGlb(received, tools, 'It takes mode, cutoff and sides from the material.'),
  },
  ...SCENE_RECEIVERS,
  {
    id: 'ignores-alpha',
    label: 'Ignores alpha unless the material says so',
    rule: 'A picture that has alpha is opaque until a material beside it asks for a mask or a blend.',
    isMeant: isGltf,
    applies: (received) => isGltf(received) || fileAs(received, 'colour') !== undefined,
    async reads(received, tools) {
      if (isGltf(received)) return throughGlb(received, tools, 'The material asks for its mode.', false);
      const { file, levels } = await read(received, 'colour', tools);
      return {
        ...shown(received, levels, whole(levels[0]), {
          did: `No material stands beside ${file.name}: all of it shows.`,
          remedy: `Set the material to ${received.material.mode} in the target, or write a scene file with a material.`,
        }),
        threshold: 0,
      };
    },
  },
  ...MIP_FILTERS.filter((filter) => filter === 'box' || filter === 'Kaiser').map((filter) => ownLevels(filter)),
  {
    id: 'power-of-two',
    label: 'Needs powers of two',
    follows: true,
    rule: 'A picture whose sides are no powers of two is scaled to the next smaller ones before anything else.',
    isMeant: (received) => received.target.powerOfTwo && isFlat(received),
    applies: (received) => isFlat(received) && fileAs(received, 'colour') !== undefined,
    async reads(received, tools) {
      const { levels, mask, name } = await plainly(received, tools);
      const [w, h] = [2 ** Math.floor(Math.log2(mask.width)), 2 ** Math.floor(Math.log2(mask.height))];
      const fits = w === mask.width && h === mask.height;
      return shown(received, levels, fits ? mask : resize(mask, w, h), {
        did: fits
          ? 'Its sides are powers of two.'
          : `${name} is scaled from ${mask.width} × ${mask.height} to ${w} × ${h}.`,
        remedy: 'Fit the piece into a size whose sides are powers of two.',
      });
    },
  },
  ...(['OpenGL', 'DirectX'] as const).map((green): Receiver => ({
    id: green === 'OpenGL' ? 'green-up' : 'green-down',
    label: green === 'OpenGL' ? 'Wants green up' : 'Wants green down',
    rule: `Normals have their green ${green === 'OpenGL' ? 'up' : 'down'}; nothing in a file says which way it is.`,
    isMeant: (received) => isFlat(received) && received.green === green && fileAs(received, 'normal') !== undefined,
    applies: (received) => fileAs(received, 'normal') !== undefined,
    async reads(received, tools) {
      const { levels, mask } = await plainly(received, tools);
      const normal = await read(received, 'normal', tools);
      return {
        ...shown(received, levels, mask, {
          did: `It takes ${normal.file.name} with green ${green === 'OpenGL' ? 'up' : 'down'}.`,
          remedy: `Write green ${green === 'OpenGL' ? 'up' : 'down'}.`,
        }),
        normals: { raster: normal.levels[0], up: green === 'OpenGL' ? 1 : -1 },
        fix: { green },
      };
    },
  })),
  {
    id: 'mode-from-name',
    label: 'Takes the mode from the name',
    rule: 'A name that holds masked, cutout or clip is a mask, one that holds blend or transparent a blend, else it is opaque.',
    isMeant: () => false,
    applies: (received) => isFlat(received) && fileAs(received, 'colour') !== undefined,
    async reads(received, tools) {
      const { levels, mask, name } = await plainly(received, tools);
      const mode = modeOf(name);
      const opaque = mode === 'opaque';
      const read = shown(
        { ...received, material: { ...received.material, mode } },
        levels,
        opaque ? whole(mask) : mask,
        {
          did: `${name} says ${mode === 'opaque' ? 'nothing, so it is opaque' : mode}.`,
          remedy: `Put {mode} into the name pattern.`,
        },
      );
      return read;
    },
  },
];

/** Opacity of every level that the file has, from where the target takes it. */
async function levelsOfFile(received: Received, tools: ReceiveTools) {
  const { opacity, channel } = received.target;
  const isChannel = opacity === 'a channel' && channel;
  const file = isChannel ? received.files.find((f) => f.slot === channel.file) : fileAs(received, opacity === 'mask picture' ? 'mask' : 'colour'); // prettier-ignore
  if (!file) throw new Error(`no file is called ${isChannel ? channel.file : 'so'}.`);
  const levels = await tools.decode(file.bytes, file.name);
  const masks = levels.map((level) =>
    isChannel
      ? channel.channel < level.channels
        ? channelOf(level, channel.channel)
        : whole(level)
      : opacity === 'mask picture'
        ? channelOf(level, 0)
        : alphaOf(level),
  );
  return { file, levels, masks };
}

function ownLevels(filter: MipFilter): Receiver {
  return {
    id: `levels-${filter.toLowerCase()}`,
    label: filter === 'box' ? 'Makes its own levels, 2 × 2' : `Makes its own levels, ${filter}`,
    follows: true,
    rule: `Each level is averaged from the one before by a ${filter} filter, alpha as a value; levels in the file are dropped.`,
    isMeant: (received) => received.target.levels === filter && hasPlainColour(received),
    applies: hasPlainColour,
    async reads(received, tools) {
      const { levels, mask } = await plainly(received, tools);
      const more = levelsBy(mask, { ...received.makes, filter });
      return {
        ...shown(received, levels, mask, {
          did: `It makes ${more.length} levels of its own.`,
          remedy: 'Hold the clip at distance for this filter on the Bench, or hand off levels in a DDS.',
        }),
        masks: [mask, ...more],
      };
    },
  };
}

/** What names say of the mode (common practice). */
function modeOf(name: string): Received['material']['mode'] {
  if (/masked|cut-?out|clip/i.test(name)) return 'mask';
  return /blend|transparent/i.test(name) ? 'blend' : 'opaque';
}

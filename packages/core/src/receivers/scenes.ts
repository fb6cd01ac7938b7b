import { textOf } from '../codec/utf8.ts';
import { SieveError } from '../errors.ts';
import type { MaterialDescription } from '../handoff/formats/description.ts';
import { materialOfObj, readMtl } from '../scene/mtl-read.ts';
import { readMtlx } from '../scene/mtlx-read.ts';
import type { SceneSays } from '../scene/says.ts';
import { readUsda } from '../scene/usda-read.ts';
import { readUsdz } from '../scene/usdz.ts';
import { alphaOf, channelOf, whole } from './alphas.ts';
import { shown } from './reading.ts';
import type { Received, ReceivedFile, Receiver, ReceiveTools, Shown } from './receiver.ts';

/** A target that reads one kind of scene file, and nothing but what that says. */
function reader(
  extension: RegExp,
  slot: string,
  of: Pick<Receiver, 'id' | 'label' | 'rule'>,
  reads: (file: ReceivedFile, received: Received, tools: ReceiveTools) => Promise<Shown>,
): Receiver {
  const own = ({ files }: Received) => files.find((f) => f.slot === slot && extension.test(f.name));
  return {
    ...of,
    isMeant: (received) => own(received) !== undefined,
    applies: (received) => own(received) !== undefined,
    reads: (received, tools) => reads(own(received)!, received, tools),
  };
}

/** Two documents, a shading model each. */
const MTLX_READERS = [
  ['gltf_pbr', 'card', 'Mode and cutoff are alpha_mode and alpha_cutoff of gltf_pbr.'],
  ['standard_surface', 'card_standard', 'Opacity of standard_surface is what its graph computes: 0 is dropped.'],
] as const;

export const SCENE_RECEIVERS: readonly Receiver[] = [
  reader(
    /\.usd[az]$/i,
    'card',
    {
      id: 'strict-usd',
      label: 'Reads USD strictly',
      rule: 'Above 0, opacityThreshold makes a mask; at 0, opacity blends. Sides are those of the mesh. A package must be aligned.',
    },
    (file, received, tools) => {
      const inside = /\.usdz$/i.test(file.name) ? readUsdz(file.bytes) : null;
      const { says } = readUsda(textOf(inside ? inside[0].bytes : file.bytes));
      const { cutoff, doubleSided } = says;
      const clips = says.mode === 'mask' ? `an opacityThreshold of ${String(cutoff)}` : `mode ${says.mode}`;
      return throughSays(received, tools, says, inside ?? received.files, {
        did: `It takes ${clips}, and ${doubleSided ? 'two sides' : 'one side'} from the mesh.`,
        remedy: 'Write the file again: its material is not that of the piece.',
      });
    },
  ),
  ...MTLX_READERS.map(([shader, slot, rule]) =>
    reader(
      /\.mtlx$/i,
      slot,
      { id: `materialx-${shader === 'gltf_pbr' ? 'gltf' : 'standard'}`, label: `Reads MaterialX, ${shader}`, rule },
      (file, received, tools) => {
        const says = readMtlx(textOf(file.bytes));
        return throughSays(received, tools, says, received.files, {
          did: `It takes ${says.mode}${says.mode === 'mask' ? ` at ${String(says.cutoff)}` : ''} from ${file.name}.`,
          remedy: 'Write the file again: its material is not that of the piece.',
        });
      },
    ),
  ),
  reader(
    /\.obj$/i,
    'card',
    {
      id: 'obj-map-d',
      label: 'Reads OBJ + MTL',
      rule: 'Opacity is the grey of map_d. Mode, cutoff and sides, for which there is no word, are set by hand as the page says.',
    },
    (file, received, tools) => {
      const { library, material } = materialOfObj(textOf(file.bytes));
      const says = readMtl(textOf(named(received.files, library)), material);
      const { mode, cutoff } = received.material;
      const byHand = says.mode === 'opaque' ? says : { ...says, mode, cutoff };
      return throughSays(received, tools, byHand, received.files, {
        did: says.alpha ? `It takes ${says.alpha.file} by map_d.` : 'No map_d: all is kept.',
        remedy: 'Write the files again: map_d must name the mask, white for kept.',
      });
    },
  ),
  {
    id: 'description',
    label: 'Reads the description',
    rule: 'Mode, cutoff and the picture that holds opacity are those that the JSON names.',
    isMeant: (received) => described(received) !== undefined,
    applies: (received) => described(received) !== undefined,
    reads: (received, tools) => {
      const { material, pictures } = JSON.parse(textOf(described(received)!.bytes)) as MaterialDescription;
      const colour = pictures.find((p) => p.holds.startsWith('colour'))?.file ?? null;
      const says: SceneSays = {
        ...material,
        colour,
        alpha: colour === null ? null : { file: colour, channel: 'alpha' },
        files: pictures.map((p) => p.file),
      };
      return throughSays(received, tools, says, received.files, {
        did: `It takes ${material.mode}${material.mode === 'mask' ? ` at ${material.cutoff}` : ''} from the description.`,
        remedy: 'Write the files again: the description is not that of the piece.',
      });
    },
  },
];

const described = ({ files }: Received) => files.find((f) => f.slot === 'description');

type Files = readonly Pick<ReceivedFile, 'name' | 'bytes'>[];

function named(files: Files, name: string): Uint8Array {
  const found = files.find((f) => f.name === name);
  if (found) return found.bytes;
  throw new SieveError('missing-source', `It names ${name}, which is not beside it.`);
}

/** Colour and opacity as a scene says them. */
async function throughSays(
  received: Received,
  tools: ReceiveTools,
  { mode, cutoff, opacity, doubleSided, colour, alpha }: SceneSays,
  files: Files,
  words: Pick<Shown, 'did' | 'remedy'>,
): Promise<Shown> {
  const read = async (name: string) => (await tools.decode(named(files, name), name))[0];
  const shows = colour === null ? null : await read(colour);
  const holds = alpha && (await read(alpha.file));
  const mask = holds && (alpha.channel === 'alpha' ? alphaOf(holds) : channelOf(holds, 0));
  const all = shows ?? holds;
  if (!all) throw new SieveError('missing-source', 'Its material shows no picture.');
  const material = { mode, cutoff, opacity, doubleSided: doubleSided ?? received.material.doubleSided };
  return shown({ ...received, material }, shows ? [shows] : [], mask ?? whole(all), words);
}

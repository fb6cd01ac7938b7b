import { picturesOf } from '../../material/slots.ts';
import { GLTF_PICTURES, SURFACE, type SlotPicture } from '../../material/slot-pictures.ts';
import type { MapName } from '../../raster/maps.ts';
import { WITHOUT_PICTURE, type FileFormat, type Packed, type PackTools } from '../file-format.ts';
import type { GeometryPlan, ScenePlan } from '../file-plan.ts';
import { checkCard, GLB_FORMAT } from './glb.ts';

/** Text and geometry come of one making, as two files. */
const made = new WeakMap<Packed, ReturnType<typeof filesApart>>();
function onceApart(piece: Packed, tools: PackTools): ReturnType<typeof filesApart> {
  const before = made.get(piece) ?? filesApart(piece, tools);
  made.set(piece, before);
  return before;
}

async function filesApart({ pictures: named, nameOf, view: viewed }: Packed, tools: PackTools) {
  const view = viewed();
  const pictures = picturesOf(view.slots);
  const nameHolding = (holds: string) => named.find(({ plan }) => plan.holds === holds)?.name ?? '';
  const uriOf = (picture: SlotPicture) =>
    picture === SURFACE
      ? nameHolding('occlusion, roughness, metalness')
      : (named.find(({ plan }) => GLTF_PICTURES[plan.holds as MapName] === picture)?.name ?? '');
  const { back } = view;
  const files = await tools.glb.writeApart({
    ...view,
    base: nameHolding('colour and mask'),
    back: back && { tint: back.tint, base: back.base && nameHolding('backColour') },
    textures: pictures.map(({ picture, into }) => ({ label: picture.label, uri: uriOf(picture), into })),
    geometry: nameOf('bin'),
  });
  return { view, pictures, ...files };
}

/** glTF 2.0 as text. */
export const GLTF_FORMAT: FileFormat<ScenePlan> = {
  ...WITHOUT_PICTURE,
  async write(_, piece, tools) {
    const { view, pictures, json } = await onceApart(piece, tools);
    return {
      bytes: json,
      async check(found, { material }, given, add) {
        const issues = await given.glb.validate(found, given.beside);
        add('glTF validator', issues.length === 0, issues.join('; ') || 'no error, no warning');
        await checkCard(await given.glb.readApart(found, given.beside), { view, pictures }, material, given, add);
      },
    };
  },
  leavesOut: (plan, maps, doc) =>
    GLB_FORMAT.leavesOut({ ...plan, extension: 'glb', holds: 'colour and mask' }, maps, doc),
};

/** Its vertices and triangles. */
export const BIN_FORMAT: FileFormat<GeometryPlan> = {
  ...WITHOUT_PICTURE,
  async write(_, piece, tools) {
    const { bin } = await onceApart(piece, tools);
    return {
      bytes: bin,
      check: (bytes, _doc, _given, add) => add('length', bytes.length === bin.length, `${bytes.length} bytes`),
    };
  },
};

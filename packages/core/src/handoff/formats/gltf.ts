import { viewOf } from '../view-of.ts';
import { picturesOf } from '../../material/slots.ts';
import { SURFACE, GLTF_PICTURES } from '../../material/slot-pictures.ts';
import type { FileFormat, Packed, PackTools } from '../file-format.ts';
import type { GeometryPlan, ScenePlan } from '../file-plan.ts';
import { checkCard, GLB_FORMAT } from './glb.ts';

const REST = { isWritten: () => true, picture: () => null, onCard: () => 0, estimate: () => ({ bytes: null }) };

async function filesApart({ doc, state, pictures: named, nameOf }: Packed, tools: PackTools) {
  const view = viewOf(doc, state, tools);
  const pictures = picturesOf(view.slots);
  const nameHolding = (holds: string) => named.find(({ plan }) => plan.holds === holds)?.name ?? '';
  const textures = pictures.map(({ picture, into }) => {
    const map = Object.entries(GLTF_PICTURES).find(([, own]) => own === picture)?.[0];
    return {
      label: picture.label,
      uri: nameHolding(picture === SURFACE ? 'occlusion, roughness, metalness' : (map ?? '')),
      into,
    };
  });
  const { back } = view;
  const files = await tools.glb.writeApart({
    ...view,
    base: nameHolding('colour and mask'),
    back: back && { tint: back.tint, base: back.base && nameHolding('backColour') },
    textures,
    geometry: nameOf('bin'),
  });
  return { view, pictures, ...files };
}

/** glTF 2.0 as text. */
export const GLTF_FORMAT: FileFormat<ScenePlan> = {
  ...REST,
  async write(_, piece, tools) {
    const { view, pictures, json } = await filesApart(piece, tools);
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
  ...REST,
  async write(_, piece, tools) {
    const { bin } = await filesApart(piece, tools);
    return {
      bytes: bin,
      check: (bytes, _doc, _given, add) => add('length', bytes.length === bin.length, `${bytes.length} bytes`),
    };
  },
  leavesOut: () => [],
};

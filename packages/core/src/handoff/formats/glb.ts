import type { DecodedPicture } from '../../codec/picture.ts';
import { subMesh, type SurfaceMesh } from '../../card/surface-mesh.ts';
import { leftOutOfGltf, type PieceView } from '../../material/piece-view.ts';
import { picturesOf, slotsOf, type FilledPicture } from '../../material/slots.ts';
import type { SlotPicture } from '../../material/slot-pictures.ts';
import type { RunState } from '../../raster/run-state.ts';
import type { Material } from '../../piece/piece-doc.ts';
import type { Picture, Raster } from '../../raster/raster.ts';
import { withAlphaOf } from '../../raster/with-alpha.ts';
import { withMaskAsAlpha } from '../../run/compose.ts';
import { checkMesh, checkPlain } from '../check-mesh.ts';
import { checkPixels, equalSamples } from '../compare.ts';
import type { Add, FileFormat, PackTools } from '../file-format.ts';
import type { GlbPlan } from '../file-plan.ts';
import { withLevels } from '../with-levels.ts';
import type { CardTexture, ReadGlb } from '../glb-tools.ts';

/** The card with its material, colour with alpha, and the maps that a material has slots for. */
export const GLB_FORMAT: FileFormat<GlbPlan> = {
  async write(_, piece, tools) {
    const view = piece.view();
    const pictures = picturesOf(view.slots);
    const textures: CardTexture[] = [];
    for (const { picture, raster, into } of pictures) {
      textures.push({ label: picture.label, png: await tools.encodePng(raster), into });
    }
    const { back } = view;
    const bytes = await tools.glb.write({
      ...view,
      base: await tools.encodePng(view.base),
      back: back && { tint: back.tint, base: back.base && (await tools.encodePng(back.base)) },
      textures,
    });
    return {
      bytes,
      async check(found, { material: wanted }, given, add) {
        const issues = await given.glb.validate(found);
        add('glTF validator', issues.length === 0, issues.join('; ') || 'no error, no warning');
        await checkCard(await given.glb.read(found), { view, pictures }, wanted, given, add);
      },
    };
  },
  isWritten: () => true,
  leavesOut: (_, maps, doc) => leftOutOfGltf(maps, doc),
  picture: (_, state) => withMaskAsAlpha(state),
  ...sizesInside(() => true),
};

/** What a file with its pictures inside takes, of which it holds these. */
export function sizesInside(
  isHeld: (picture: SlotPicture) => boolean,
): Pick<FileFormat<GlbPlan>, 'onCard' | 'estimate'> {
  const held = (maps: RunState['maps']) => picturesOf(slotsOf(maps)).filter(({ picture }) => isHeld(picture));
  return {
    onCard: (_, { width, height }, { maps }) =>
      4 * width * height * withLevels(1 + held(maps).length + (maps.has('backColour') ? 1 : 0)),
    estimate(_, { colour }, rowsOf, { sides }) {
      const textures = (from: number, to: number) => {
        const rows = rowsOf(from, to);
        const back = sides && (rows.maps.get('backColour') as Picture | undefined);
        return [
          withMaskAsAlpha(rows),
          back ? withAlphaOf(back, rows.mask) : null,
          ...held(rows.maps).map(({ raster }) => raster),
        ];
      };
      return { height: colour.height, textures };
    },
  };
}

/** What was read of a card against what was to be written. */
export async function checkCard(
  glb: ReadGlb,
  { view, pictures }: { view: PieceView; pictures: readonly FilledPicture[] },
  wanted: Material,
  given: PackTools,
  add: Add,
): Promise<void> {
  checkMaterial(glb.material, wanted, add);
  if (view.slots.has('emission')) checkStrength(glb.material.emission, wanted, add);
  checkSides(glb, view, add);
  if (view.sway) checkSway([glb.mesh, ...(glb.back ? [glb.back.mesh] : [])], view, add);
  checkPlain(glb.plain, view.surface.plain, add);
  for (const { picture, raster } of pictures) {
    const own = glb.imageOf((material) => picture.textureOf(material));
    if (own) checkTexture(picture.label, await given.decodePng(own), raster, add);
    else add(`${picture.label} texture`, false, 'missing');
  }
  if (view.leftOut.length) add('without a place in glTF', true, `left out: ${view.leftOut.join(', ')}`);
  checkPixels(await given.decodePng(glb.image), view.base, true, add);
  if (view.back?.base && glb.back) {
    const ofBack: Add = (what, ok, said) => add(`back: ${what}`, ok, said);
    checkPixels(await given.decodePng(glb.back.image), view.back.base, true, ofBack);
  }
}

/** Front and back, as one mesh where they look alike. */
function checkSides(glb: ReadGlb, { surface: { mesh }, back: wanted, slots }: PieceView, add: Add): void {
  const normals = slots.has('normal');
  const { indices, backFrom = indices.length } = mesh;
  if (!wanted) return checkMesh(glb, mesh, normals, add);
  checkMesh(glb, subMesh(mesh, [{ from: 0, to: backFrom }]), normals, add);
  const { back } = glb;
  if (!back) return add('back', false, 'missing');
  const ofBack: Add = (what, ok, found) => add(`back: ${what}`, ok, found);
  checkMesh(back, subMesh(mesh, [{ from: backFrom, to: indices.length }]), normals, ofBack);
  const same = back.tint.every((v, k) => Math.abs(v - wanted.tint[k]) < 1e-6);
  ofBack('tint', same, back.tint.map((v) => v.toFixed(3)).join(' '));
}

/** Corner by corner: where tangents differ, vertices are written twice. */
function checkSway(found: readonly SurfaceMesh[], { surface: { mesh } }: PieceView, add: Add): void {
  const cornersOf = ({ rootTip, indices }: SurfaceMesh) => Array.from(indices, (i) => rootTip?.[i]);
  const [wanted, written] = [cornersOf(mesh), found.flatMap(cornersOf)];
  const ok = wanted.length === written.length && wanted.every((v, i) => v === written[i]);
  add('root to tip', ok, ok ? 'equal, 0 at the root' : 'differs');
}

function checkMaterial(found: ReadGlb['material'], material: Material, add: Add): void {
  const mode = found.alphaMode.toLowerCase();
  add('alpha mode', mode === material.mode, mode);
  if (material.mode === 'mask') add('cutoff', found.alphaCutoff === material.cutoff, String(found.alphaCutoff));
  add('double-sided', found.doubleSided === material.doubleSided, found.doubleSided ? 'yes' : 'no');
  add('opacity factor', found.opacity === material.opacity, String(found.opacity));
}

function checkStrength(found: number, { emission = 1 }: Material, add: Add): void {
  add('emission strength', found === emission, String(found));
}

function checkTexture(what: string, { raster }: DecodedPicture, expected: Raster, add: Add): void {
  const same = raster.channels === expected.channels && raster.data.length === expected.data.length;
  const ok = same && equalSamples(raster, expected);
  add(`${what} texture`, ok, ok ? 'equal to what was packed, texel for texel' : 'differs');
}

import type { DecodedPicture } from '../../codec/picture.ts';
import { pieceView, withoutSlot } from '../../material/piece-view.ts';
import { picturesOf, slotsOf } from '../../material/slots.ts';
import type { Material } from '../../piece/piece-doc.ts';
import type { Raster } from '../../raster/raster.ts';
import { withMaskAsAlpha } from '../../run/compose.ts';
import { checkMesh, checkPlain } from '../check-mesh.ts';
import { checkPixels, equalSamples } from '../compare.ts';
import type { Add, FileFormat } from '../file-format.ts';
import type { GlbPlan } from '../file-plan.ts';
import type { CardTexture, ReadGlb } from '../glb-tools.ts';

/** The card with its material, colour with alpha, and the maps that a material has slots for. */
export const GLB_FORMAT: FileFormat<GlbPlan> = {
  async write(_, { doc, state }, tools) {
    const view = pieceView(doc, state, tools.mesh);
    const pictures = picturesOf(view.slots);
    const textures: CardTexture[] = [];
    for (const { picture, raster, into } of pictures) {
      textures.push({ label: picture.label, png: await tools.encodePng(raster), into });
    }
    const bytes = await tools.glb.write({ ...view, base: await tools.encodePng(view.base), textures });
    return {
      bytes,
      async check(found, { material: wanted }, given, add) {
        const issues = await given.glb.validate(found);
        add('glTF validator', issues.length === 0, issues.join('; ') || 'no error, no warning');
        const glb = await given.glb.read(found);
        checkMaterial(glb.material, wanted, add);
        checkMesh(glb, view.surface.mesh, view.slots.has('normal'), add);
        checkPlain(glb.plain, view.surface.plain, add);
        for (const { picture, raster } of pictures) {
          const own = glb.imageOf((material) => picture.textureOf(material));
          if (own) checkTexture(picture.label, await given.decodePng(own), raster, add);
          else add(`${picture.label} texture`, false, 'missing');
        }
        if (view.leftOut.length) add('maps without a place in glTF', true, `left out: ${view.leftOut.join(', ')}`);
        checkPixels(await given.decodePng(glb.image), view.base, true, add);
      },
    };
  },
  isWritten: () => true,
  leavesOut: (_, maps) => withoutSlot(maps),
  estimate(_, { colour }, rowsOf) {
    const textures = (from: number, to: number) => {
      const rows = rowsOf(from, to);
      return [withMaskAsAlpha(rows), ...picturesOf(slotsOf(rows.maps)).map(({ raster }) => raster)];
    };
    return { height: colour.height, textures };
  },
};

function checkMaterial(found: ReadGlb['material'], material: Material, add: Add): void {
  const mode = found.alphaMode.toLowerCase();
  add('alpha mode', mode === material.mode, mode);
  if (material.mode === 'mask') add('cutoff', found.alphaCutoff === material.cutoff, String(found.alphaCutoff));
  add('double-sided', found.doubleSided === material.doubleSided, found.doubleSided ? 'yes' : 'no');
  add('opacity factor', found.opacity === material.opacity, String(found.opacity));
}

function checkTexture(what: string, { raster }: DecodedPicture, expected: Raster, add: Add): void {
  const same = raster.channels === expected.channels && raster.data.length === expected.data.length;
  const ok = same && equalSamples(raster, expected);
  add(`${what} texture`, ok, ok ? 'equal to what was packed, texel for texel' : 'differs');
}

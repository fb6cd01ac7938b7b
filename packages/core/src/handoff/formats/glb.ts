import type { DecodedPicture } from '../../codec/picture.ts';
import { cardSurface } from '../../card/kinds.ts';
import { readCardGlb, type ReadGlb } from '../../glb/read.ts';
import { writeCardGlb, type CardTexture } from '../../glb/write.ts';
import { cardOf } from '../../piece/has-regions.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import type { MapName } from '../../raster/maps.ts';
import type { Raster } from '../../raster/raster.ts';
import { frameOf } from '../../raster/run-state.ts';
import { withMaskAsAlpha } from '../../run/compose.ts';
import { checkPixels, equalSamples } from '../compare.ts';
import type { Add, FileFormat } from '../file-format.ts';
import type { GlbPlan } from '../file-plan.ts';
import { GLB_SLOTS, leftOutOfGlb } from '../glb-slots.ts';

/** The card with its material, colour with alpha, and the maps that glTF has places for. */
export const GLB_FORMAT: FileFormat<GlbPlan> = {
  async write(_, { doc, state }, tools) {
    const base = withMaskAsAlpha(state);
    const textures = GLB_SLOTS.flatMap((slot) => {
      const raster = slot.raster(state);
      return raster ? [{ slot, raster }] : [];
    });
    const has = (map: MapName) => state.maps.has(map);
    const packed: CardTexture[] = [];
    for (const { slot, raster } of textures) {
      const png = await tools.encodePng(raster);
      packed.push({ label: slot.label, png, into: (index) => slot.into(index, has) });
    }
    const bytes = writeCardGlb({
      name: doc.name,
      surface: cardSurface({ ...cardOf(doc), cardWidth: doc.cardWidth * frameOf(state).share }, state.colour),
      material: doc.material,
      wrap: { across: doc.levels.wrapAcross, down: doc.levels.wrapDown },
      base: await tools.encodePng(base),
      textures: packed,
    });
    const leftOut = leftOutOfGlb(state.maps.keys());
    return {
      bytes,
      async check(found, piece, given, add) {
        const issues = await given.validateGlb(found);
        add('glTF validator', issues.length === 0, issues.join('; ') || 'no error, no warning');
        const glb = readCardGlb(found);
        checkMaterial(glb.material, piece, add);
        for (const { slot, raster } of textures) {
          const own = glb.imageOf((material) => slot.textureOf(material));
          if (own) checkTexture(slot.label, await given.decodePng(own), raster, add);
          else add(`${slot.label} texture`, false, 'missing');
        }
        if (leftOut.length) add('maps without a place in glTF', true, `left out: ${leftOut.join(', ')}`);
        checkPixels(await given.decodePng(glb.image), base, true, add);
      },
    };
  },
  isWritten: () => true,
  leavesOut: (_, maps) => leftOutOfGlb(maps),
  estimate(_, { colour }, rowsOf) {
    const textures = (from: number, to: number) => {
      const rows = rowsOf(from, to);
      return [withMaskAsAlpha(rows), ...GLB_SLOTS.map((slot) => slot.raster(rows))];
    };
    return { height: colour.height, textures };
  },
};

function checkMaterial(found: ReadGlb['material'], { material }: PieceDoc, add: Add): void {
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

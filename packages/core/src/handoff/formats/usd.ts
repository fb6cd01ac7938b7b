import { checkPixels, equalSamples } from '../compare.ts';
import { textOf, utf8 } from '../../codec/utf8.ts';
import { picturesOf } from '../../material/slots.ts';
import { EMISSION, NORMALS, SURFACE, type SlotPicture } from '../../material/slot-pictures.ts';
import type { MapName } from '../../raster/maps.ts';
import { sceneOf, type CardScene, type PictureUse } from '../../scene/scene.ts';
import { readUsda } from '../../scene/usda-read.ts';
import { writeUsda } from '../../scene/usda-write.ts';
import { readUsdz, writeUsdz } from '../../scene/usdz.ts';
import { SCENE_UNITS } from '../../piece/scene-space.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import type { Raster, Samples } from '../../raster/raster.ts';
import { WITHOUT_PICTURE, type Add, type FileFormat } from '../file-format.ts';
import type { GlbPlan, ScenePlan } from '../file-plan.ts';
import { GLB_FORMAT, sizesInside } from './glb.ts';
import { checkParts, checkSays, isBeside, leftOutOf, modeWhereZeroBlends, sceneFrom } from './scene-files.ts';

/** What UsdPreviewSurface has an input for. */
const PLACES: readonly MapName[] = ['backColour', 'normal', 'roughness', 'metalness', 'occlusion', 'emission'];
/** Pictures of a package, by what they are called there; the surface holds three maps. */
const INSIDE = new Map<SlotPicture, PictureUse>([[NORMALS, 'normal'], [SURFACE, 'surface'], [EMISSION, 'emission']]); // prettier-ignore

function check(text: string, scene: CardScene, doc: PieceDoc, has: (file: string) => boolean, add: Add): void {
  const { says, parts, metres, up } = readUsda(text);
  checkSays(says, { ...doc.material, mode: modeWhereZeroBlends(doc.material) }, has, add);
  const wanted = SCENE_UNITS[scene.space.unit];
  add('unit and up axis', metres === wanted && up === scene.space.up, `${metres} m, ${up} up`);
  checkParts(parts.map((p) => p.mesh), scene.parts, add); // prettier-ignore
}

/** A layer as text. */
export const USDA_FORMAT: FileFormat<ScenePlan> = {
  ...WITHOUT_PICTURE,
  write(_, piece) {
    const scene = sceneFrom(piece);
    return Promise.resolve({
      bytes: utf8(writeUsda(scene)),
      check: (bytes, doc, given, add) => check(textOf(bytes), scene, doc, isBeside(given), add),
    });
  },
  leavesOut: (_, maps, doc) => leftOutOf(PLACES, maps, doc),
};

/** A layer with its pictures in one package. */
export const USDZ_FORMAT: FileFormat<GlbPlan> = {
  ...GLB_FORMAT,
  ...sizesInside((picture) => INSIDE.has(picture)),
  async write(_, piece, tools) {
    const view = piece.view();
    const rasters = new Map<string, Raster<Samples>>([['base.png', view.base]]);
    const names = new Map<PictureUse, string>([['base', 'base.png']]);
    for (const { picture, raster } of picturesOf(view.slots)) {
      const use = INSIDE.get(picture);
      if (!use) continue;
      names.set(use, `${use}.png`);
      rasters.set(`${use}.png`, raster);
    }
    if (view.back?.base) rasters.set('back.png', view.back.base);
    const scene = sceneOf(view, names, view.back?.base ? 'back.png' : null, piece.doc.handOff.space);
    const pngs: { name: string; bytes: Uint8Array }[] = [];
    for (const [name, raster] of rasters) pngs.push({ name, bytes: await tools.encodePng(raster) });
    return {
      bytes: writeUsdz([{ name: 'card.usda', bytes: utf8(writeUsda(scene)) }, ...pngs]),
      async check(bytes, doc, given, add) {
        const files = readUsdz(bytes);
        add('package', true, `${files.length} files, nothing compressed, each aligned to 64 bytes`);
        const inside = new Map(files.map((f) => [f.name, f.bytes]));
        check(textOf(files[0].bytes), scene, doc, (file) => inside.has(file), add);
        for (const [name, raster] of rasters) {
          const png = inside.get(name);
          if (png && name === 'base.png') {
            checkPixels(await given.decodePng(png), view.base, true, add);
            continue;
          }
          const same = png !== undefined && equalSamples((await given.decodePng(png)).raster, raster);
          add(name, same, same ? 'equal to what was packed, texel for texel' : 'differs');
        }
      },
    };
  },
  leavesOut: (_, maps, doc) => leftOutOf(PLACES, maps, doc),
};

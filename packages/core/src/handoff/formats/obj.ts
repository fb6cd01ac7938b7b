import { subMesh } from '../../card/surface-mesh.ts';
import { readObj } from '../../card/mesh/obj.ts';
import { textOf, utf8 } from '../../codec/utf8.ts';
import type { MapName } from '../../raster/maps.ts';
import { materialOfObj, readMtl } from '../../scene/mtl-read.ts';
import { materialNames, writeMtl, writeObj } from '../../scene/obj-write.ts';
import { WITHOUT_PICTURE, type FileFormat } from '../file-format.ts';
import type { ScenePlan } from '../file-plan.ts';
import { checkParts, checkSays, isBeside, leftOutOf, sceneFrom } from './scene-files.ts';

/** The reader of meshes turns v over in double precision, and makes normals as long as 1. */
const READ_TO = 1e-6;
const PLACES: readonly MapName[] = ['normal', 'roughness', 'metalness', 'emission'];

/** The triangles of a card. */
export const OBJ_FORMAT: FileFormat<ScenePlan> = {
  ...WITHOUT_PICTURE,
  write(_, piece) {
    const scene = sceneFrom(piece);
    const library = piece.nameOf('mtl');
    return Promise.resolve({
      bytes: utf8(writeObj(scene, library)),
      check(bytes, _doc, given, add) {
        const named = materialOfObj(textOf(bytes));
        const beside = given.beside(named.library);
        const holds = beside !== null && new RegExp(`^newmtl ${named.material}$`, 'm').test(textOf(beside));
        add(
          'material',
          holds,
          holds ? `${named.material} in ${named.library}` : `${named.library} holds no ${named.material}`,
        );
        const mesh = readObj(bytes);
        let from = 0;
        const found = mesh.slots.map(({ triangles }) => subMesh(mesh, [{ from, to: (from += 3 * triangles) }]));
        checkParts(found, scene.parts, add, READ_TO);
      },
    });
  },
};

/** The materials of an OBJ. */
export const MTL_FORMAT: FileFormat<ScenePlan> = {
  ...WITHOUT_PICTURE,
  write(_, piece) {
    const scene = sceneFrom(piece);
    const [{ material }] = scene.parts;
    const first = materialNames([material]).get(material)!;
    return Promise.resolve({
      bytes: utf8(writeMtl(scene)),
      check(bytes, doc, given, add) {
        // it has no word for a mask: what is less than opaque blends, until a target is given the cutoff
        const mode = doc.material.mode === 'opaque' ? 'opaque' : 'blend';
        checkSays(readMtl(textOf(bytes), first), { ...doc.material, mode }, isBeside(given), add);
      },
    });
  },
  leavesOut: (_, maps, doc) =>
    leftOutOf(PLACES, maps, doc, [
      ...(doc.material.mode === 'mask' ? ['the cutoff'] : []),
      ...(doc.material.doubleSided ? ['that both sides show'] : []),
    ]),
};

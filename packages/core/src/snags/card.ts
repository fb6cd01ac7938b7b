import { CARD_SIDES } from '../card/sides.ts';
import { MESH_UNITS } from '../card/mesh/card-mesh.ts';
import { UV_PLACEMENT, uvMatrixOf } from '../card/mesh/placement.ts';
import { fittedAgain } from '../card/outline/card-outline.ts';
import { laidOnMesh } from '../piece/laid-on-mesh.ts';
import { stepKind } from '../steps/registry.ts';
import type { SnagCheck } from './snag.ts';

/** Metres that a piece of foliage or a prop has along its longest side. */
const LIKELY = { least: 0.01, most: 50, best: 1 } as const;

/** A mesh read in a unit that it was hardly made in. */
export const meshUnit: SnagCheck = ({ doc, mesh }) => {
  if (!doc.mesh || !mesh) return null;
  const own = doc.mesh;
  const longest = Math.max(...mesh.size);
  const isLikely = (metres: number) => longest * metres >= LIKELY.least && longest * metres <= LIKELY.most;
  if (longest === 0 || isLikely(own.metres)) return null;
  const off = (metres: number) => Math.abs(Math.log((longest * metres) / LIKELY.best));
  const [better] = MESH_UNITS.filter(({ metres }) => isLikely(metres)).sort((a, b) => off(a.metres) - off(b.metres));
  const now = Number((longest * own.metres).toPrecision(3));
  return {
    id: 'mesh-unit',
    text: `The mesh is ${now} m long as it is read: its unit is another one, probably.`,
    ...(better && {
      remedy: {
        label: `Read it in ${better.name}`,
        apply: (d) => (d.mesh ? laidOnMesh(d, { ...d.mesh, metres: better.metres }, mesh.size) : d),
      },
    }),
  };
};

/** Letters read backwards, and normals lean the wrong way where a renderer makes its tangents without their sign. */
export const mirroredUvs: SnagCheck = ({ doc, mesh }) => {
  if (!doc.mesh || !mesh || mesh.mirrored === 0) return null;
  const placement = doc.mesh.placement ?? UV_PLACEMENT;
  const [a, b, , d, e] = uvMatrixOf(placement);
  const turnsOver = a * e - b * d < 0;
  const wrong = turnsOver ? mesh.triangles - mesh.mirrored : mesh.mirrored;
  if (wrong < mesh.triangles) return null; // some are: copies of one half, on purpose
  return {
    id: 'mirrored-uvs',
    text: 'Every triangle of the mesh shows the picture mirrored.',
    remedy: {
      label: 'Mirror the picture',
      apply: (d) => {
        if (!d.mesh) return d;
        const { size, ...own } = d.mesh.placement ?? UV_PLACEMENT;
        return { ...d, mesh: { ...d.mesh, placement: { ...own, size: [-size[0], size[1]] } } };
      },
    },
  };
};

/** Corners that were set by hand, and a mask that has grown since. */
export const outlineCuts: SnagCheck = ({ doc, keptOutside = 0 }) => {
  const { byHand, parts, cuts } = doc.outline ?? {};
  if (keptOutside === 0 || !(byHand ?? parts) || cuts) return null;
  return {
    id: 'outline-cuts',
    text: `The outline was set by hand, and ${keptOutside} kept texels lie outside by now.`,
    remedy: {
      label: 'Fit it again',
      apply: (d) => (d.outline ? { ...d, outline: fittedAgain(d.outline) } : d),
    },
  };
};

/** Two faces for one pixel. */
export const facesFight: SnagCheck = ({ doc: { sides, material } }) => {
  if (!sides) return null;
  if (material.doubleSided) {
    return {
      id: 'faces-fight',
      text: 'The back is geometry, and the material shows both sides of it: each place is drawn twice.',
      remedy: {
        label: 'Show fronts alone',
        apply: (d) => ({ ...d, material: { ...d.material, doubleSided: false } }),
      },
    };
  }
  if (sides.apart > 0 || material.mode !== 'blend') return null;
  return {
    id: 'faces-fight',
    text: 'Front and back lie on one another and are blended: which comes first changes with the camera.',
    remedy: {
      label: `Hold them ${CARD_SIDES.apart} mm apart`,
      apply: (d) => (d.sides ? { ...d, sides: { ...d.sides, apart: CARD_SIDES.apart } } : d),
    },
  };
};

/** A colour that no face shows. */
export const backUnseen: SnagCheck = ({ doc }) => {
  if (doc.sides || !doc.run.some((s) => s.on && stepKind(s.kind).makes === 'backColour')) return null;
  return {
    id: 'back-unseen',
    text: 'The run makes a colour for the back, and the card has no back of its own.',
    remedy: {
      label: 'Give it a back of geometry',
      apply: (d) => ({ ...d, sides: CARD_SIDES, material: { ...d.material, doubleSided: false } }),
    },
  };
};

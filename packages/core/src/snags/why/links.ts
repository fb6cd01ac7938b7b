import { CARD_SIDES } from '../../card/sides.ts';
import { sunWay } from '../../light/sky.ts';
import { coverageAt } from '../../sieve/histogram.ts';
import { stepKind } from '../../steps/registry.ts';
import { endOfStretch, makeStep, type PieceDoc } from '../../piece/piece-doc.ts';
import { backUnseen, facesFight } from '../card.ts';
import { failedStep } from '../failed-step.ts';
import { farDrift } from '../far-loss.ts';
import { heldNotHard } from '../held-not-hard.ts';
import { halo as haloOf } from '../maps.ts';
import { allOrNothing, inverted, keptByte, noMask, opaqueMode, percent } from '../mask.ts';
import { noRoomForLevels } from '../no-room-for-levels.ts';
import type { Remedy, SnagCheck } from '../snag.ts';
import type { Break, Link, WhyContext } from './link.ts';

/** The first check that finds something. */
const checked =
  (...checks: SnagCheck[]): Link['broken'] =>
  (context) => {
    for (const check of checks) {
      const snag = check(context);
      if (snag) return { text: snag.text, remedy: snag.remedy };
    }
    return null;
  };

const setMaterial = (label: string, change: Partial<PieceDoc['material']>): Remedy => ({
  label,
  apply: (d) => ({ ...d, material: { ...d.material, ...change } }),
});

const keptOf = (context: WhyContext) => coverageAt(context.counts, keptByte(context));

export const alpha: Link = {
  name: 'alpha of the picture',
  broken: checked(noMask),
  holds({ doc, facts }) {
    const makers = doc.run.filter((s) => s.on && stepKind(s.kind).pullsMask).map((s) => stepKind(s.kind).label);
    const [first] = doc.sources;
    const has = first && facts.get(first.sha256)?.alpha === 'present';
    const made = makers.length > 0 ? `“${makers.at(-1)}” makes the mask` : 'The mask is drawn by hand';
    return `${made}${has ? '; the picture has alpha of its own' : ''}.`;
  },
};

export const run: Link = {
  name: 'run',
  broken(context) {
    const failed = checked(failedStep)(context);
    if (failed) return failed;
    const values = context.counts.reduce((n, count) => n + (count > 0 ? 1 : 0), 0);
    if (values > 1) return null;
    const value = context.counts.findIndex((count) => count > 0);
    return { text: `The run ends in one alpha all over, ${(value / 255).toFixed(2)}: no cutoff makes a hole in that.` };
  },
  holds: ({ doc }) => `${doc.run.filter((s) => s.on).length} steps, all done.`,
};

export const polarity: Link = {
  name: 'polarity',
  broken: checked(inverted),
  holds: () => 'White is kept, as it should be.',
};

export const mode: Link = {
  name: 'mode',
  broken(context) {
    if (context.doc.material.mode !== 'opaque') return null;
    return checked(opaqueMode)(context) ?? { text: 'The mode is opaque: alpha is not looked at.', remedy: setMaterial('Set the mode to mask', { mode: 'mask' }) }; // prettier-ignore
  },
  holds: ({ doc }) => (doc.material.mode === 'mask' ? 'Mask: each pixel is kept or dropped.' : 'Blend: low alpha is see-through.'), // prettier-ignore
};

export const cutoff: Link = {
  name: 'cutoff',
  broken: checked(allOrNothing),
  holds: (context) => `Cutoff ${context.doc.material.cutoff} drops ${percent(1 - keptOf(context))}.`,
};

export const sides: Link = {
  name: 'sides',
  broken({ doc, stand }) {
    if (stand.seesFront || doc.material.doubleSided || doc.sides) return null;
    return {
      text: 'It is seen from behind, and one side is drawn: all of it is missing, not the holes alone.',
      remedy: setMaterial('Draw both sides', { doubleSided: true }),
    };
  },
  holds({ doc, stand }) {
    const through = doc.sides ? ' Holes go through front and back alike.' : '';
    return `Seen from the ${stand.seesFront ? 'front' : 'back'}, ${doc.material.doubleSided ? 'two sides' : 'one side'}.${through}`;
  },
};

/** Less of the picture than this, and the holes may be on what the mesh leaves out. */
const MOST_USED = 0.6;

export const uvs: Link = {
  name: 'card and its UVs',
  broken({ doc, mesh }) {
    if (!doc.mesh || !mesh || mesh.uvUsed >= MOST_USED) return null;
    return {
      text: `The mesh shows ${percent(mesh.uvUsed)} of the picture: the holes probably lie beside its UVs. The Card tray lays the picture otherwise.`,
    };
  },
  holds({ doc }) {
    const set = doc.set ? ' Other cards of the set may lie behind a hole.' : '';
    return `${doc.mesh ? 'The mesh shows most of the picture.' : 'The card shows the whole picture.'}${set}`;
  },
};

/** Share of the holes that a level may have lost. */
const HOLES_LEFT = 0.5;

export const level: Link = {
  name: 'distance',
  broken(context) {
    const { levels, stand } = context;
    const at = levels.at(Math.min(levels.length - 1, Math.round(stand.level)));
    if (!at || levels.length === 0) return null;
    const [near, far] = [keptOf(context), coverageAt(at.counts, keptByte(context))];
    if (1 - far > HOLES_LEFT * (1 - near)) return null;
    return {
      text: `Mip level ${Math.round(stand.level)}, ${at.width} × ${at.height}, is read from here, and its gaps are closed: ${percent(far)} is kept instead of ${percent(near)}.`,
      remedy: farDrift(context)?.remedy,
      look: { label: 'Look from nearer', near: true },
    };
  },
  holds: ({ stand }) => `Mip level ${stand.level.toFixed(1)} is read, and its gaps are open.`,
};

/** Stops, and what is left of all light. */
const DARK = -2.5;

export const light: Link = {
  name: 'light',
  broken({ stand: { light: now, overlay } }) {
    if (overlay) return { text: `The Stand shows ${overlay} instead of light.`, look: { label: 'Show light', noOverlay: true } };
    if (now.exposure <= DARK)
      return { text: `The exposure is ${now.exposure} stops: nearly all is black.`, look: { label: 'Set it to 0', light: { exposure: 0 } } };
    return null;
  }, // prettier-ignore
  holds: ({ stand }) => `Exposure ${stand.light.exposure}, sun × ${stand.light.strength}.`,
};

export const shade: Link = {
  name: 'side of the sun',
  broken({ stand, doc }) {
    const { height, turn, strength } = stand.light;
    const towards = sunWay(height, turn)[2] * (stand.seesFront ? 1 : -1);
    if (strength === 0 || towards > 0.05) return null;
    const passes = doc.run.some((s) => s.on && stepKind(s.kind).makes === 'translucency');
    if (passes) return null;
    return {
      text: 'The sun shines on the other side: this one has the light of the sky alone, and no light comes through.',
      remedy: {
        label: 'Let light through',
        apply: (d, makeId) => ({
          ...d,
          run: d.run.toSpliced(endOfStretch(d.run, 'translucency'), 0, makeStep(makeId(), 'translucency')),
        }),
      },
      look: { label: 'Bring the sun to this side', light: { turn: Math.round(((turn + 360) % 360) - 180) } },
    };
  },
  holds: () => 'The sun, or light that comes through, reaches this side.',
};

const BLACK = 0.02;

export const colour: Link = {
  name: 'colour',
  broken({ surface }) {
    if (!surface || surface.brightness > BLACK) return null;
    return { text: `The kept texels are nearly black themselves: ${percent(surface.brightness)} of white in the mean.` };
  },
  holds: ({ surface }) => (surface ? `Kept texels have ${percent(surface.brightness)} of white in the mean.` : 'Not known yet.'),
}; // prettier-ignore

export const normals: Link = {
  name: 'normals',
  broken({ surface }) {
    const blue = surface?.maps.get('normal')?.channels[2];
    if (!blue || blue.mean > 0.6) return null;
    return { text: `The normals point along the card or into it: z is ${(2 * blue.mean - 1).toFixed(2)} in the mean. The map is no tangent-space normal map, or its channels are swapped.` };
  }, // prettier-ignore
  holds: ({ surface }) => (surface?.maps.has('normal') ? 'They point outwards.' : 'None: the card’s own.'),
};

export const maps: Link = {
  name: 'occlusion and metalness',
  broken({ surface }) {
    const mean = (map: 'occlusion' | 'metalness') => surface?.maps.get(map)?.channels[0].mean;
    const [open, metal] = [mean('occlusion') ?? 1, mean('metalness') ?? 0];
    if (open < 0.15) return { text: `Occlusion lets ${percent(open)} of the sky’s light through in the mean: it may be inverted.` };
    if (metal > 0.85) return { text: `Metalness is ${metal.toFixed(2)} in the mean: metal shows what it mirrors and nothing else. Foliage and cloth have 0.` };
    return null;
  }, // prettier-ignore
  holds: () => 'Neither takes the light away.',
};

export const backDrawn: Link = {
  name: 'sides',
  broken({ doc }) {
    if (doc.material.doubleSided || doc.sides) return null;
    return {
      text: 'One side is drawn, and the card has no back of its own: from behind it is not there.',
      remedy: setMaterial('Draw both sides', { doubleSided: true }),
    };
  },
  holds: ({ doc }) => (doc.sides ? 'The back has triangles of its own.' : 'Both sides are drawn.'),
};

export const backColour: Link = {
  name: 'colour of the back',
  broken(context) {
    const found = checked(backUnseen, facesFight)(context);
    const tint = context.doc.sides?.tint;
    if (found || !tint || Math.max(...tint) > 24) return found;
    return {
      text: `The back’s colour is multiplied by ${tint.join(', ')}: nearly black.`,
      remedy: {
        label: 'Leave it as the front’s',
        apply: (d) => (d.sides ? { ...d, sides: { ...d.sides, tint: CARD_SIDES.tint } } : d),
      },
    };
  },
  holds: () => 'It shows a colour, and nothing fights for its pixels.',
};

export const lowCutoff: Link = {
  name: 'cutoff',
  broken({ doc: { material } }) {
    if (material.mode !== 'mask' || material.cutoff >= 0.25) return null;
    return {
      text: `Cutoff ${material.cutoff} keeps texels that are mostly backdrop.`,
      remedy: setMaterial('Set it to 0.5', { cutoff: 0.5 }),
    };
  },
  holds: ({ doc: { material } }) => (material.mode === 'mask' ? `Cutoff ${material.cutoff} drops what is mostly backdrop.` : 'No cutoff in this mode.'),
}; // prettier-ignore

export const blended: Link = {
  name: 'mode',
  broken(context) {
    if (context.doc.material.mode !== 'blend') return null;
    const found = checked(haloOf)(context);
    return found && { ...found, text: `${found.text} Blend shows soft texels in part, hidden colour with them.` };
  },
  holds: ({ doc }) => `${doc.material.mode}.`,
};

export const halo: Link = {
  name: 'hidden colour',
  broken: checked(haloOf),
  holds: () => 'What lies under the mask has the colour of what is kept.',
};

export const noise: Link = {
  name: 'how the clip is drawn',
  broken({ doc }) {
    const { by } = doc.drawn;
    if (doc.material.mode !== 'mask' || (by !== 'hashed' && by !== 'ordered')) return null;
    return {
      text: `Alpha is drawn ${by === 'hashed' ? 'hashed: its noise' : 'dithered: its pattern'} crawls when card or camera move, unless the target smooths over frames.`,
      remedy: { label: 'Draw it hard', apply: (d) => ({ ...d, drawn: { ...d.drawn, by: 'hard' } }) },
    };
  },
  holds: ({ doc }) => `${doc.drawn.by}.`,
};

export const hold: Link = {
  name: 'hold',
  broken: checked(heldNotHard),
  holds: ({ doc }) => (doc.levels.madeBy === 'target' && doc.levels.hold ? 'Alpha is held for the distance.' : 'Alpha is as drawn.'), // prettier-ignore
};

export const farLoss: Link = {
  name: 'mip levels',
  broken: checked(farDrift),
  holds(context) {
    const byte = keptByte(context);
    const [first, ...rest] = context.levels.map(({ width, counts }) => ({ width, kept: coverageAt(counts, byte) }));
    const off = rest.filter(({ width }) => width >= 16).map(({ kept }) => Math.abs(kept - first.kept));
    return off.length > 0 ? `They stay within ${percent(Math.max(...off))} of level 0.` : 'Not known yet.';
  },
};

/** Below it a highlight is smaller than a texel of a far level. */
const GLOSSY = 0.25;

export const glints: Link = {
  name: 'highlights',
  broken({ surface }): Break | null {
    const rough = surface?.maps.get('roughness')?.channels[0].mean ?? 1;
    if (rough >= GLOSSY || !surface?.maps.has('normal')) return null;
    return { text: `Roughness is ${rough.toFixed(2)} in the mean, under a normal map: highlights flash from pixel to pixel.` };
  }, // prettier-ignore
  holds: () => 'None is so small that it flashes.',
};

export const levelsArrive: Link = {
  name: 'levels of our own',
  broken: checked(noRoomForLevels),
  holds: ({ doc }) =>
    doc.levels.madeBy === 'file' ? 'They are handed off.' : 'The target makes its own, as shown here.',
};

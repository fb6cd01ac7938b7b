import { textOf, utf8 } from '../../codec/utf8.ts';
import { thresholdByte } from '../../math/threshold.ts';
import type { PieceDoc } from '../../piece/piece-doc.ts';
import type { Wrap } from '../../sieve/mip-filters.ts';
import { mapKind, type MapName } from '../../raster/maps.ts';
import { coverageAt, histogram } from '../../sieve/histogram.ts';
import { WITHOUT_PICTURE, type FileFormat } from '../file-format.ts';
import { isColour, type DescriptionPlan } from '../file-plan.ts';

/** What stands in the JSON that describes a hand-off; its schema is `materialDescriptionSchema` of the contract. */
export interface MaterialDescription {
  form: 'lithe-sieve-material';
  version: 1;
  name: string;
  /** Texels of the whole texture. */
  width: number;
  height: number;
  material: Pick<PieceDoc['material'], 'mode' | 'cutoff' | 'doubleSided' | 'opacity'> & { emission: number };
  /** Share of the texels that is kept, 0–1. */
  kept: number;
  /** Of the card with what stands beside it: corners of the box around it, metres, Y up. */
  card: { min: number[]; max: number[]; triangles: number };
  /** Beside the texture. */
  wrap: { across: Wrap; down: Wrap };
  /** Which way green of normals goes. */
  green: 'up' | 'down';
  pictures: { file: string; holds: string; read: 'sRGB' | 'data' }[];
}

/** The material, the card and the pictures, for whatever reads JSON. */
export const DESCRIPTION_FORMAT: FileFormat<DescriptionPlan> = {
  ...WITHOUT_PICTURE,
  write(_, { doc, state, pictures, view }) {
    const { surface, wrap } = view();
    const { mode, cutoff, doubleSided, opacity, emission = 1 } = doc.material;
    const threshold = mode === 'mask' ? thresholdByte(cutoff, opacity) : mode === 'blend' ? 1 : 0;
    const meshes = [surface.mesh, ...surface.plain.map((p) => p.mesh)];
    const said: MaterialDescription = {
      ...{ form: 'lithe-sieve-material', version: 1, name: doc.name },
      ...{ width: state.colour.width, height: state.colour.height },
      material: { mode, cutoff, doubleSided, opacity, emission },
      kept: coverageAt(histogram(state.mask), threshold),
      card: {
        min: [...surface.bounds.min],
        max: [...surface.bounds.max],
        triangles: meshes.reduce((sum, { indices }) => sum + indices.length / 3, 0),
      },
      wrap,
      green: doc.handOff.green === 'OpenGL' ? 'up' : 'down',
      pictures: pictures.map(({ plan, name }) => ({
        file: name,
        holds: plan.holds in HELD ? HELD[plan.holds] : mapKind(plan.holds as MapName).label,
        read: isColour(plan) ? 'sRGB' : 'data',
      })),
    };
    const text = `${JSON.stringify(said, null, 2)}\n`;
    return Promise.resolve({
      bytes: utf8(text),
      contents: `JSON: material, card, ${said.pictures.length} pictures`,
      check(bytes, _doc, given, add) {
        const found = JSON.parse(textOf(bytes)) as MaterialDescription;
        const missing = found.pictures.filter(({ file }) => given.beside(file) === null);
        const ok = textOf(bytes) === text && missing.length === 0;
        add('description', ok, missing.length ? `not beside it: ${missing.map((m) => m.file).join(', ')}` : ok ? 'as it was written' : 'differs'); // prettier-ignore
      },
    });
  },
};

const HELD: Record<string, string> = { 'colour and mask': 'colour, opacity in alpha', packed: 'channels' };

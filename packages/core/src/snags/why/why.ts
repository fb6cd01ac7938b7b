import type { Break, Link, WhyContext } from './link.ts';
import * as links from './links.ts';

/** Each question, the links that are walked, and what is left to say where all hold. A new question is one entry here. */
export const WHY = {
  holes: {
    question: 'Why do I see no holes?',
    links: [links.alpha, links.run, links.polarity, links.mode, links.cutoff, links.sides, links.uvs, links.level, links.light],
    else: 'Nothing breaks: the holes are there. What is behind them may look like the card: take another sky, or turn the card.',
  },
  black: {
    question: 'Why is it black?',
    links: [links.light, links.shade, links.colour, links.normals, links.maps],
    else: 'Nothing is dark: colour, normals and light are as they should be.',
  },
  back: {
    question: 'Why is the back missing?',
    links: [links.backDrawn, links.backColour, links.shade, links.light],
    else: 'The back is drawn. Go round to it with F.',
  },
  halo: {
    question: 'Why is there a halo?',
    links: [links.lowCutoff, links.blended, links.halo],
    else: 'No hidden colour shows at any mip level. What is seen lies in the kept texels themselves: trim the mask by a texel.',
  },
  shimmer: {
    question: 'Why does it shimmer?',
    links: [links.noise, links.hold, links.farLoss, links.glints],
    else: 'Clip, mip levels and highlights are steady. What is left are hard edges: they step from pixel to pixel where the target does not smooth them.',
  },
  far: {
    question: 'Why is it thicker or thinner far away?',
    links: [links.mode, links.hold, links.levelsArrive, links.farLoss],
    else: 'Every mip level keeps about as much as level 0.',
  },
} as const satisfies Record<string, { question: string; links: readonly Link[]; else: string }>; // prettier-ignore
export type WhyName = keyof typeof WHY;
export const WHY_NAMES = Object.keys(WHY) as WhyName[];

export interface Answer {
  /** Links that hold, in order. */
  held: { name: string; text: string }[];
  /** The first that does not; null: all hold. */
  broken: ({ name: string } & Break) | null;
  /** What is left to say where all hold. */
  otherwise: string;
}

/** Walks the links of a question until one breaks. */
export function answerWhy(name: WhyName, context: WhyContext): Answer {
  const { links: all, else: otherwise } = WHY[name];
  const held: Answer['held'] = [];
  for (const link of all as readonly Link[]) {
    const broken = link.broken(context);
    if (broken) return { held, broken: { name: link.name, ...broken }, otherwise };
    held.push({ name: link.name, text: link.holds(context) });
  }
  return { held, broken: null, otherwise };
}

/** A card that is cut to an outline of few corners around what its mask keeps. */
export interface CardOutline {
  /** In all. */
  corners: number;
  /** Whether free areas inside are left open. */
  holes: boolean;
  /** The smallest mip level whose kept texels have to be held too; plain averages. */
  downTo: number;
  /** Its corners, where they were set by hand: they stay when the mask changes. */
  byHand?: OutlineByHand | undefined;
  /** The same of parts of an atlas, by {@link CardRegion.key}, in shares of the rectangle of each. */
  parts?: Record<string, OutlineByHand> | undefined;
  /** Whether corners that are set by hand may cut into what is kept. */
  cuts?: boolean | undefined;
}

/** Places in shares of the picture from its top left corner. */
export type Places = [x: number, y: number][];

export interface OutlineByHand {
  polygons: Places[];
  holes: Places[];
}

export const CARD_OUTLINE: CardOutline = { corners: 8, holes: false, downTo: 3 };
export const OUTLINE_DOWN_TO = { min: 0, max: 8, step: 1, digits: 0 } as const;

/** Without the corners that were set by hand. */
export const fittedAgain = ({ byHand: _, parts: __, ...outline }: CardOutline): CardOutline => outline;

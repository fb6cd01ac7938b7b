/** A card that is cut to an outline of few corners around what its mask keeps. */
export interface CardOutline {
  /** In all. */
  corners: number;
  /** Whether free areas inside are left open. */
  holes: boolean;
  /** The smallest mip level whose kept texels have to be held too; plain averages. */
  downTo: number;
}

export const CARD_OUTLINE: CardOutline = { corners: 8, holes: false, downTo: 3 };
export const OUTLINE_DOWN_TO = { min: 0, max: 8, step: 1, digits: 0 } as const;

import type { StandLight } from '../../light/stand-light.ts';
import type { Remedy, SnagContext } from '../snag.ts';

/** How the card is looked at on the Stand. */
export interface StandFacts {
  seesFront: boolean;
  /** The mip level that is read in the middle of the card; 0 is full size. */
  level: number;
  light: StandLight;
  /** What is shown instead of light; null: light. */
  overlay: string | null;
}

export interface WhyContext extends SnagContext {
  stand: StandFacts;
}

/** What is to be looked at otherwise. */
export interface Look {
  label: string;
  light?: Partial<StandLight>;
  /** Nearer, until level 0 is read. */
  near?: boolean;
  noOverlay?: boolean;
}

/** What breaks a link, and what to do about it: with the piece, or with how it is looked at. */
export interface Break {
  text: string;
  remedy?: Remedy | undefined;
  look?: Look;
}

/** One link of the way from the picture to the screen. */
export interface Link {
  name: string;
  /** null: it holds. */
  broken(context: WhyContext): Break | null;
  /** What it does where it holds. */
  holds(context: WhyContext): string;
}

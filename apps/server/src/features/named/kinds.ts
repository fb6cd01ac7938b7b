import {
  keptProfileSchema,
  MOST_PROFILES,
  MOST_STARTS,
  MOST_VIEWS,
  standLookSchema,
  startSchema,
} from '@lithe-sieve/contract';
import { KeptProfile, KeptStart, StandView } from '../../db/entities/named.ts';

/** What a studio keeps by name. Another kind is an entry here, and its table in `db/entities/named.ts`. */
export const VIEWS = {
  entity: StandView,
  key: 'look',
  schema: standLookSchema,
  what: 'view',
  most: MOST_VIEWS,
} as const;
export const PROFILES = {
  entity: KeptProfile,
  key: 'profile',
  schema: keptProfileSchema,
  what: 'profile',
  most: MOST_PROFILES,
} as const;
export const STARTS = {
  entity: KeptStart,
  key: 'start',
  schema: startSchema,
  what: 'start',
  most: MOST_STARTS,
} as const;

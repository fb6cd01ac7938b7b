import {
  keptProfileSchema,
  MOST_PROFILES,
  MOST_STARTS,
  MOST_VIEWS,
  standLookSchema,
  startSchema,
} from '@lithe-sieve/contract';
import { KeptProfileEntity } from '../../db/entities/profile.ts';
import { KeptStartEntity } from '../../db/entities/start.ts';
import { StandView } from '../../db/entities/view.ts';

/** What a studio keeps by name. Another kind is an entry here, and its table. */
export const VIEWS = {
  entity: StandView,
  key: 'look',
  schema: standLookSchema,
  what: 'view',
  most: MOST_VIEWS,
} as const;
export const PROFILES = {
  entity: KeptProfileEntity,
  key: 'profile',
  schema: keptProfileSchema,
  what: 'profile',
  most: MOST_PROFILES,
} as const;
export const STARTS = {
  entity: KeptStartEntity,
  key: 'start',
  schema: startSchema,
  what: 'start',
  most: MOST_STARTS,
} as const;

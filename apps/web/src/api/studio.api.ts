import {
  freedSchema,
  studioCheckSchema,
  studioSchema,
  type Freed,
  type Studio,
  type StudioCheck,
} from '@lithe-sieve/contract';
import { requestJson } from './http';

/** Looking over and backing up read every byte of a studio. */
const LONG_MS = 30 * 60_000;

export const lookAtStudio = (): Promise<Studio> => requestJson('/studio', studioSchema);

export const freeStudio = (): Promise<Freed> =>
  requestJson('/studio/free', freedSchema, { method: 'POST', patienceMs: LONG_MS });

export const backStudioUp = (): Promise<Studio> =>
  requestJson('/studio/backups', studioSchema, { method: 'POST', patienceMs: LONG_MS });

export const checkStudio = (): Promise<StudioCheck> =>
  requestJson('/studio/check', studioCheckSchema, { method: 'POST', patienceMs: LONG_MS });

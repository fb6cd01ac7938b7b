import { z } from './zod.ts';

export const idSchema = z.string().regex(/^[A-Za-z0-9_-]{6,40}$/);
export const sha256Schema = z.string().regex(/^[0-9a-f]{64}$/);

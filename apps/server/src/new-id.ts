import { nanoid } from 'nanoid';

/** An id of a piece, a source within a piece, a step or a job. */
export const newId = (): string => nanoid(12);

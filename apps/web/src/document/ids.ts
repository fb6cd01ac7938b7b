import { nanoid } from 'nanoid';

/** An id within a document. */
export const makeId = (): string => nanoid(12);

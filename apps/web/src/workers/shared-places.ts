// Places of the numbers that the page and a worker of the run share.

/** The newest turn: whoever computes for an older one gives up. */
export const NEWEST = 0;
/** Thousandths done of what is computed. */
export const DONE = 1;
/** Counted up as long as the worker lives and looks up from its work. */
export const HEARTBEAT = 2;
/** The step of the run that is computed, from 1; 0: what comes before the first. */
export const STEP = 3;
export const SHARED_BYTES = 16;

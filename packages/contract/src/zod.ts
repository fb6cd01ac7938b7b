import { config, z } from 'zod';

/**
 * Zod compiles validators at run time where it can. In pages it cannot: their content policy allows no eval, and some
 * browsers log the probe for it as an error. It is set here, since it must be before the first schema is made.
 */
const IN_BROWSER = 'document' in globalThis || 'WorkerGlobalScope' in globalThis;
if (IN_BROWSER) config({ jitless: true });

export { z };

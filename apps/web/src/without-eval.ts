import { config } from 'zod';

// the page's content policy allows no eval, and the probe for it is logged as an error in some browsers
config({ jitless: true });

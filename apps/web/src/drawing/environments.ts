import { dark } from './environments/dark';
import type { OpenGround } from './environments/open-ground';
import { pale } from './environments/pale';
import { shore } from './environments/shore';

/** What an environment is made of: data alone, which the page knows too. */
export type EnvironmentLook = OpenGround;

/** What a card can be seen in: an environment is its file and a line here, in the order that people choose from. */
export const ENVIRONMENTS = { shore, pale, dark } satisfies Record<string, EnvironmentLook>;
export type EnvironmentName = keyof typeof ENVIRONMENTS;
export const ENVIRONMENT_NAMES = Object.keys(ENVIRONMENTS) as EnvironmentName[];

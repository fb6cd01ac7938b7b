import { SKY_LIGHTS, type StandLight } from '@lithe-sieve/core';
import { dark } from './environments/dark';
import type { OpenGround } from './environments/open-ground';
import { pale } from './environments/pale';
import type { UnderSky } from './environments/under-sky';

/** What an environment is made of: data alone, which the page knows too. */
export type EnvironmentLook = OpenGround | UnderSky;

const sky = (name: UnderSky['sky']): UnderSky => ({ kind: 'under a sky', sky: name });

/** What a card can be seen in: an environment is its file and a line here, in the order that people choose from. */
export const ENVIRONMENTS = {
  clear: sky('clear'),
  overcast: sky('overcast'),
  dusk: sky('dusk'),
  indoor: sky('indoor'),
  even: sky('even'),
  pale,
  dark,
} satisfies Record<string, EnvironmentLook>;
export type EnvironmentName = keyof typeof ENVIRONMENTS;
export const ENVIRONMENT_NAMES = Object.keys(ENVIRONMENTS) as EnvironmentName[];

/** Of plain greys: they judge edges, not light. */
const PLAIN: StandLight = { height: 38, turn: -36, strength: 1, warmth: 5200, size: 0.5, exposure: 0, tone: 'none' };

/** How each is lit at first. */
export const ENVIRONMENT_LIGHTS: Record<EnvironmentName, StandLight> = { ...SKY_LIGHTS, pale: PLAIN, dark: PLAIN };

/** About what is seen of an environment before it is drawn. */
const SEEN: Record<UnderSky['sky'], Pick<OpenGround, 'sky' | 'ground'>> = {
  clear: { sky: [0x74889f, 0x9497a3], ground: 0x8f877d },
  overcast: { sky: [0xe4e6ea, 0xc4c7cb], ground: 0x9a948b },
  dusk: { sky: [0x76776f, 0x8c8468], ground: 0x5c5a55 },
  indoor: { sky: [0x5d6068, 0x5d6068], ground: 0x91846f },
  even: { sky: [0xf4f4f4, 0xf4f4f4], ground: 0xa89f92 },
};
export function coloursOf(look: EnvironmentLook): Pick<OpenGround, 'sky' | 'ground'> {
  return look.kind === 'under a sky' ? SEEN[look.sky] : look;
}

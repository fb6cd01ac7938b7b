import { STAND_LIGHT_RANGES, TONES, type StandLight } from '@lithe-sieve/core';
import { ENVIRONMENT_LIGHTS, ENVIRONMENT_NAMES, type EnvironmentName } from './lit/environments';

type Lights = Record<EnvironmentName, StandLight>;
type LightNumber = keyof typeof STAND_LIGHT_RANGES;
const NUMBERS = Object.keys(STAND_LIGHT_RANGES) as LightNumber[];

/** Within the range of each number. */
export function withinLight(light: StandLight): StandLight {
  const numbers = NUMBERS.map((name) => {
    const { min, max, digits } = STAND_LIGHT_RANGES[name];
    return [name, Number(Math.min(max, Math.max(min, light[name])).toFixed(digits))];
  });
  return { ...light, ...(Object.fromEntries(numbers) as Record<LightNumber, number>) };
}

/** As the browser keeps them; what is missing or makes no sense is as it is at first. */
export function storedLights(text: string | null): Lights {
  let kept: unknown = null;
  try {
    kept = JSON.parse(text ?? '');
  } catch {
    // none are kept
  }
  const read = (name: EnvironmentName): StandLight => {
    const first = ENVIRONMENT_LIGHTS[name];
    const own = isRecord(kept) && isRecord(kept[name]) ? kept[name] : {};
    const number = (key: LightNumber) => (Number.isFinite(own[key]) ? (own[key] as number) : first[key]);
    const tone = TONES.find((t) => t === own['tone']) ?? first.tone;
    const numbers = Object.fromEntries(NUMBERS.map((key) => [key, number(key)])) as Record<LightNumber, number>;
    return withinLight({ ...numbers, tone });
  };
  return Object.fromEntries(ENVIRONMENT_NAMES.map((name) => [name, read(name)])) as Lights;
}

const isRecord = (value: unknown): value is Record<string, unknown> => typeof value === 'object' && value !== null;

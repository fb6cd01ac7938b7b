import type { Vec3 } from '../math/vector.ts';

/** Khronos PBR Neutral, specification of 2024: keeps base colours, and rolls off what is brighter than the screen. */
export function neutralTone([r, g, b]: Vec3): Vec3 {
  const [start, desaturation] = [0.8 - 0.04, 0.15];
  const least = Math.min(r, g, b);
  const offset = least < 0.08 ? least - 6.25 * least * least : 0.04;
  const given: Vec3 = [r - offset, g - offset, b - offset];
  const peak = Math.max(...given);
  if (peak < start) return given;
  const room = 1 - start;
  const rolled = 1 - (room * room) / (peak + room - start);
  const grey = 1 - 1 / (desaturation * (peak - rolled) + 1);
  return given.map((v) => ((v * rolled) / peak) * (1 - grey) + rolled * grey) as unknown as Vec3;
}

import { cosine, sine } from '../math/trigonometry.ts';

/**
 * The distance at which a renderer comes to a mip level, in metres: one texel of the level covers one pixel, seen
 * straight on. A pixel at distance d is 2 d tan(fov / 2) / height wide; the level of detail is λ = log₂ (texels of level 0
 * in a pixel) (OpenGL ES 3.0 §3.8.10.1, Vulkan 1.3 §16.5.8), so that level n is whole where λ = n.
 *
 * @param cardWidth - Metres. @param levelWidth - Texels of the level across the card.
 */
export function levelDistance(
  cardWidth: number,
  levelWidth: number,
  { fieldOfView, screenHeight }: { fieldOfView: number; screenHeight: number },
): number {
  const tangent = sine(fieldOfView / 2) / cosine(fieldOfView / 2);
  return ((cardWidth / levelWidth) * screenHeight) / (2 * tangent);
}

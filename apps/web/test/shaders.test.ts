import { expect, test } from '@jest/globals';
import { ShaderLib } from 'three';
import { putInto } from '../src/drawing/lit/shadowed';
import { SURFACE_PLACES } from '../src/drawing/lit/surface-shader';

// What the Stand puts its own clip and its maps into, in the shaders of the installed three (MeshStandardMaterial, MeshDepthMaterial)
test.each([
  ['standard', 'fragmentShader', 'void main() {'],
  ['standard', 'fragmentShader', '#include <alphamap_fragment>'],
  ['depth', 'vertexShader', 'void main() {'],
  ['depth', 'fragmentShader', 'void main() {'],
  ...SURFACE_PLACES.map(([place]) => ['standard', 'fragmentShader', place] as const),
] as const)('the %s shader of three has the place in its %s: %s', (name, part, place) => {
  const shader = ShaderLib[name][part];
  expect(putInto(shader, place, '/* clip */')).toBe(shader.replace(place, '/* clip */'));
  expect(shader.split(place)).toHaveLength(2); // once: the replacement is the one that is meant
});

test('a version of three without such a place is an error, not a card that is not clipped', () => {
  expect(() => putInto('void other() {}', '#include <alphamap_fragment>', 'discard;')).toThrow('alphamap_fragment');
});

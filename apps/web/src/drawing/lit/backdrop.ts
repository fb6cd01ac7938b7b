import { LINEAR_OF_BYTE, type Behind, type Rgb, type Vec3 } from '@lithe-sieve/core';
import * as THREE from 'three';
import type { Size } from '../poses';

/** A colour or a picture in place of sky and ground: it looks as it is, whatever the exposure and the tone curve. */
export interface Backdrop {
  /** Linear. */
  colour: Vec3;
  /** Multiplies it; null: the colour alone. */
  texture: THREE.DataTexture | null;
  /** Shares of the picture that are seen where it covers the view, across and down. */
  shares: readonly [number, number];
}

/** @param texture - Of a photograph, once it is there. @returns null where sky and ground are seen. */
export function backdropOf(behind: Behind, texture: THREE.DataTexture | null, view: Size): Backdrop | null {
  if (behind.kind === 'colour') return { colour: linear(behind.colour), texture: null, shares: [1, 1] };
  if (behind.kind !== 'photograph' || !texture) return null;
  const { width, height } = texture.image as Size;
  const wider = width / height / (view.width / view.height);
  return { colour: [1, 1, 1], texture, shares: [Math.min(1, 1 / wider), Math.min(1, wider)] };
}

const linear = (colour: Rgb) => colour.map((v) => LINEAR_OF_BYTE[v]) as unknown as Vec3;

/** @param x - From 0 at the left to 1; y from 0 at the top. @returns linear light of the screen. */
export function seenOf({ colour, texture, shares }: Backdrop, x: number, y: number): Vec3 {
  if (!texture) return colour;
  const { width, height, data } = texture.image as Size & { data: Uint8Array };
  const place = (at: number, share: number, size: number) =>
    Math.min(size - 1, Math.max(0, Math.floor((0.5 + share * (at - 0.5)) * size)));
  const i = 4 * (place(y, shares[1], height) * width + place(x, shares[0], width));
  return [0, 1, 2].map((k) => LINEAR_OF_BYTE[data[i + k]]) as unknown as Vec3;
}

export const BACKDROP_UNIFORMS = () => ({
  hasBackdrop: { value: 0 },
  backdrop: { value: WHITE },
  backdropColour: { value: new THREE.Vector3() },
  backdropShares: { value: new THREE.Vector2(1, 1) },
});

export function setBackdrop(uniforms: Record<string, THREE.IUniform>, backdrop: Backdrop | null): void {
  uniforms['hasBackdrop'].value = backdrop ? 1 : 0;
  if (!backdrop) return;
  uniforms['backdrop'].value = backdrop.texture ?? WHITE;
  (uniforms['backdropColour'].value as THREE.Vector3).set(...backdrop.colour);
  (uniforms['backdropShares'].value as THREE.Vector2).set(...backdrop.shares);
}

/** `seenBehind` of a place of the view, from the bottom left. */
export const BACKDROP_SHADER = /* glsl */ `
uniform int hasBackdrop;
uniform sampler2D backdrop;
uniform vec3 backdropColour;
uniform vec2 backdropShares;
vec3 seenBehind(vec2 at) {
  vec2 away = backdropShares * (at - 0.5);
  return backdropColour * texture2D(backdrop, vec2(0.5 + away.x, 0.5 - away.y)).rgb;
}
`;

const WHITE = new THREE.DataTexture(new Uint8Array(4).fill(255), 1, 1);
WHITE.needsUpdate = true;

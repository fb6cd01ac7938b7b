import {
  bareMesh,
  cardOf,
  cardSurface,
  LEVEL_DEFAULTS,
  placedUvs,
  type CardMesh,
  type CardNormals,
  type CardSides,
  type CardSurface,
  type Wrap,
} from '@lithe-sieve/core';
import { computed, shallowRef, watch, type Ref } from 'vue';
import type { LoadedMesh } from './card-mesh';
import type { ShownOutline } from './card-outline';
import type { EngineStore } from './engine';
import type { PieceStore } from './piece';

/** The card, or the mesh, as it is shown, its longer side 1: made again where something shapes it, not with every change of the piece. */
export function useCardShape(
  piece: PieceStore,
  engine: EngineStore,
  outline: Readonly<Ref<ShownOutline | null>>,
  mesh: Readonly<Ref<LoadedMesh | null>>,
) {
  const surface = shallowRef<CardSurface | null>(null);
  const bareOf = keptBare();
  /** What beside its outline gives it its shape. */
  const shape = computed(() => {
    const { size } = engine;
    if (!size) return '';
    const { mesh: own } = piece.doc ?? {};
    if (own)
      return JSON.stringify([
        size.width,
        size.height,
        engine.cardWidth,
        own,
        piece.doc?.sides,
        piece.doc?.normals,
        wrapsOf(piece),
      ]);
    const { set, form, sides, normals, atlas } = piece.doc ? cardOf(piece.doc) : {};
    // how wide it is in metres counts where something is a length: a radius, a distance, a line
    return JSON.stringify([
      size.width,
      size.height,
      set,
      set && atlas?.params,
      form,
      (form ?? sides ?? set?.line) && engine.cardWidth,
      sides,
      normals,
    ]);
  });
  watch(
    [shape, outline, mesh],
    ([of, cut, loaded]) => {
      const { size } = engine;
      if (of === '' || !size) {
        surface.value = null;
        return;
      }
      const cardWidth = size.width / Math.max(size.width, size.height);
      const metre = cardWidth / engine.cardWidth;
      const own = piece.doc?.mesh;
      if (own && loaded?.sha256 === own.sha256) {
        const { placement } = own;
        const { sides, normals } = piece.doc ?? {};
        const bare = bareOf(loaded, { ...own, sides, normals }, metre);
        surface.value = bare.withUvs(placement ? placedUvs(bare.mesh.uvs, placement) : bare.mesh.uvs, wrapsOf(piece));
        return;
      }
      const cuts = { cutOut: cut?.cutOut, regionCutOuts: cut?.regionCutOuts };
      surface.value = cardSurface({ ...(piece.doc && cardOf(piece.doc)), cardWidth, metre, ...cuts }, size);
    },
    { immediate: true },
  );
  return surface;
}

/** A mesh as it stands, made again where that changed: a picture is dragged over it. */
function keptBare(): (
  loaded: LoadedMesh,
  own: CardMesh & { sides: CardSides | undefined; normals: CardNormals | undefined },
  metre: number,
) => CardSurface {
  let kept: { key: string; bare: CardSurface } | null = null;
  return (loaded, own, metre) => {
    const { sha256, metres, up, slot, sides, normals } = own;
    const key = JSON.stringify([sha256, metres, up, slot, sides, normals, metre]);
    if (kept?.key !== key) kept = { key, bare: bareMesh(loaded.mesh, own, { metre, lifted: true, sides, normals }) };
    return kept.bare;
  };
}

function wrapsOf({ doc }: PieceStore): { across: Wrap; down: Wrap } {
  const { wrapAcross, wrapDown } = doc?.levels ?? LEVEL_DEFAULTS;
  return { across: wrapAcross, down: wrapDown };
}

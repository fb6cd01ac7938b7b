import { mapKind, type Mask, type Raster, type Samples } from '@lithe-sieve/core';
import { computed, type Ref, type ShallowRef } from 'vue';
import { useBenchStore } from '../../stores/bench.store';
import { useClip, useEngine, usePiece } from '../../stores/open-piece/open-piece';
import type { SheetMode } from '../../drawing/flat-view';
import { pointOn, type SeenPlace } from './places';
import type { Point } from '../../drawing/poses';
import type { Stage } from './stage';

/**
 * What both views say in words, and the mark of the texel under the pointer.
 *
 * @param moved - Changes when a camera moved.
 */
export function useReadout(stage: ShallowRef<Stage | null>, hovered: Ref<SeenPlace | null>, moved: Ref<number>) {
  const piece = usePiece();
  const engine = useEngine();
  const clip = useClip();
  const bench = useBenchStore();

  const readout = computed(() => {
    const at = hovered.value;
    const mask = clip.levels?.[0];
    const colour = engine.levelsOf('colour')?.[0];
    const m = piece.material;
    if (!at || !mask || !colour || !m || !engine.size) return '';
    const rgb = sampleColour(colour, at, engine.size);
    const alpha = sampleMask(mask, at, engine.size);
    const kept = m.mode === 'opaque' || (alpha / 255) * m.opacity >= m.cutoff;
    const side = `alpha ${(alpha / 255).toFixed(3)}  ${kept ? 'kept' : 'dropped'}`;
    const map = sampleMap(bench.sheetMode, at);
    return `texel ${at.x}, ${at.y}  ${map || `RGB ${rgb.join(' ')}`}  ${side}`;
  });

  /** What a map beside colour and mask holds there, where that is looked at: 0–1 a channel. */
  function sampleMap(mode: SheetMode, at: Point): string {
    const shown = engine.maps?.maps.find(({ map }) => map === mode && map !== 'colour');
    if (!shown || !engine.size) return '';
    const [level] = shown.levels;
    const full = level.data instanceof Uint8Array ? 255 : 65535;
    const i = level.channels * texelIndex(level, at, engine.size);
    const values = Array.from(level.data.subarray(i, i + level.channels), (v) => (v / full).toFixed(4));
    return `${mapKind(shown.map).label} ${values.join(' ')}`;
  }

  const zoomText = computed(() => {
    void moved.value;
    const s = stage.value;
    return s ? `${Math.round(100 * s.sheet.scale * s.pixelRatio)} %` : '';
  });

  const standText = computed(() => {
    void moved.value;
    const s = stage.value;
    if (!s || !engine.size) return '';
    const level = s.stand.mipLevel(engine.size.height, s.view('stand'), s.pixelRatio);
    return `${s.stand.seesFront ? 'front' : 'back'} ${s.stand.azimuthDegrees}°  mip ${level.toFixed(1)}`;
  });

  /** The texel under the pointer, marked on the other view. */
  const marks = computed(() => {
    void moved.value;
    const at = hovered.value;
    const s = stage.value;
    if (!at || !s || !engine.size) return { sheet: null, stand: null };
    const place = (p: Point) => ({ left: `${p.x}px`, top: `${p.y}px` });
    const other = at.on === 'stand' ? 'sheet' : 'stand';
    const seen = place(pointOn(s, other, { x: at.x + 0.5, y: at.y + 0.5 }, engine.size));
    return { sheet: null, stand: null, [other]: seen };
  });

  return { readout, zoomText, standText, marks };
}

/** While only the view size is there, its nearest texel stands in. */
function texelIndex(
  { width, height }: { width: number; height: number },
  at: Point,
  size: { width: number; height: number },
): number {
  return Math.floor((at.y * height) / size.height) * width + Math.floor((at.x * width) / size.width);
}

function sampleMask(mask: Mask, at: Point, size: { width: number; height: number }): number {
  return mask.data[texelIndex(mask, at, size)];
}

function sampleColour(colour: Raster<Samples>, at: Point, size: { width: number; height: number }): number[] {
  const i = 4 * texelIndex(colour, at, size);
  return [colour.data[i], colour.data[i + 1], colour.data[i + 2]];
}

import { behindSchema } from '@lithe-sieve/contract';
import {
  BEHIND_AT_FIRST,
  type Behind,
  type Box,
  type Material,
  type StandLight,
  type Stretch,
} from '@lithe-sieve/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { local } from '../document/local';
import { storedLights, withinLight } from '../drawing/kept-light';
import { ENVIRONMENT_NAMES, type EnvironmentName } from '../drawing/lit/environments';
import type { MapLook, SheetMode } from '../drawing/flat-view';
import { FIELD_OF_VIEW, halfView } from '../drawing/cameras/around';
import type { BlendOrder } from '../drawing/lit/blend-order';
import type { Overlay } from '../drawing/lit/overlay-shader';
import type { TextureFilter } from '../drawing/textures';
import { WHOLE_CARD } from '../drawing/poses';
import type { StandPlace, StandSide } from '../drawing/stand-pose';

/** A tile of the clip stretch. */
export type ClipTile = 'material' | 'card' | 'levels' | 'breaks' | 'storage';

/** What the tray shows. */
export type Selection = { kind: 'step' | 'source'; id: string } | { kind: ClipTile | 'light' | 'view' | 'start' };

/** What a press on a view gives to a step: a colour, a point, or a scribble. */
export type Picking = { stepId: string } & (
  | { gives: 'swatch'; list: 'drop' | 'keep' }
  | { gives: 'stop'; index: number }
  | { gives: 'texel'; list: 'at' | 'from' }
  | { gives: 'scribble'; effect: 'keep' | 'drop'; radius: number }
);

/** What presses on the Stand do to the picture on its mesh. */
export type Laying = 'move' | 'turn' | 'size' | 'fit';

/** How the Bench is looked at. Session state, the theme apart, which the browser keeps. */
export const useBenchStore = defineStore('bench', () => {
  const selection = ref<Selection>({ kind: 'material' });
  /** The piece that was brought in last, until it was opened: it begins with a choice of masks. */
  const arrived = ref<string | null>(null);
  /** Whether the Bench is on screen. */
  const open = ref(false);
  const sheetMode = ref<SheetMode>('kept');
  /** How a map beside colour and mask is shown there. */
  const mapLook = ref<MapLook>('cut');
  const backdrop = ref<EnvironmentName>(ENVIRONMENT_NAMES.find((name) => name === local.read('backdrop')) ?? 'clear');
  /** How each is lit. */
  const lights = shallowRef(storedLights(local.read('lights')));
  const light = computed(() => lights.value[backdrop.value]);
  /** What the Stand shows instead of the light. */
  const overlay = ref<Overlay>('none');
  /** Of the Stand, degrees from top to bottom. */
  const fieldOfView = ref<number>(FIELD_OF_VIEW);
  /** Distance that the whole card is seen from. */
  const wholeCard = computed(() => WHOLE_CARD * (halfView(FIELD_OF_VIEW) / halfView(fieldOfView.value)));
  /** A side to see the card from on the Stand; set again each time it is asked for. */
  const side = shallowRef<{ from: StandSide } | null>(null);
  /** A place that the camera takes up, times as far as the whole card is seen from; set again each time. */
  const place = shallowRef<(StandPlace & { distance: number }) | null>(null);
  /** What is seen behind the card. */
  const behind = shallowRef(storedBehind(local.readJson('behind')));
  /** Whether the card turns by itself, sways in the wind, and whether the camera walks away from it. */
  const turning = ref(false);
  const swaying = ref(false);
  const walking = ref(false);
  /** How many cards there are, strewn around the one. */
  const copies = ref(1);
  /** How it is blended, in that mode. */
  const blendOrder = ref<BlendOrder>('depth');
  /** How its textures are read. */
  const filter = ref<TextureFilter>('trilinear');
  /** Whether its middle is shown eight times as large in a corner. */
  const glass = ref(false);
  /** Whether the Stand shows what an eye would see of the card near by, instead of what a target draws. */
  const asSeen = ref(false);
  /** Whether its picture is refined while nothing changes, and how far it is. */
  const refines = ref(local.read('refines') !== 'no');
  const refined = shallowRef<{ samples: number; of: number } | null>(null);
  /** The Stand fills the window. */
  const standAlone = ref(false);
  /** Whether soft texels that are dropped are marked on the Sheet. */
  const softMarked = ref(true);
  /** Distance of the camera in card sides; the Stand shows it in metres. */
  const distance = ref(WHOLE_CARD);
  /** What a press gives while a step asks; null: a drag pans. */
  const picking = ref<Picking | null>(null);
  /** What a press on the Stand does to the picture on its mesh; null: a drag turns the Stand. */
  const laying = ref<Laying | null>(null);
  /** Whether a drag over the Stand draws the line that cards stand along. */
  const lining = ref(false);
  /** A place to show close up on the Sheet; set again each time it is asked for. */
  const look = shallowRef<Box | null>(null);
  /** A second clip, B, and whether it shows now. */
  const other = shallowRef<Pick<Material, 'mode' | 'cutoff' | 'opacity'> | null>(null);
  const showOther = ref(false);
  /** Texels marked on the Sheet: of a level, by their place in its rows of `width`. */
  const texelMarks = shallowRef<{ width: number; height: number; texels: Int32Array } | null>(null);
  /** The mip level that is painted on, on the Sheet; null: none. */
  const paintLevel = ref<number | null>(null);
  /** Mip levels whose coverage curves are drawn beside that of level 0. */
  const curves = ref<number[]>([]);
  /** The pinned blade of a tuft that has handles on the Sheet, by its number; null: none. */
  const blade = ref<number | null>(null);
  /** The stretch whose menu of steps is open. */
  const inserting = ref<Stretch | null>(null);
  /** Share of the width that the Sheet takes. */
  const split = ref(0.5);
  const theme = ref<'light' | 'dark'>(local.read('theme') === 'dark' ? 'dark' : 'light');

  function setLight(change: Partial<StandLight>): void {
    lights.value = { ...lights.value, [backdrop.value]: withinLight({ ...light.value, ...change }) };
  }
  watch(refines, (does) => local.write('refines', does ? 'yes' : 'no'));
  watch(behind, (now) => local.write('behind', JSON.stringify(now)));
  watch(backdrop, (name) => local.write('backdrop', name));
  watch(lights, (all) => local.write('lights', JSON.stringify(all)));

  watch(
    theme,
    (value) => {
      document.documentElement.classList.toggle('dark', value === 'dark');
      local.write('theme', value);
    },
    { immediate: true },
  );
  /** Three at the most: the longest there goes. */
  function toggleCurve(level: number): void {
    const others = curves.value.filter((l) => l !== level);
    curves.value = others.length < curves.value.length ? others : [...others, level].slice(-3);
  }

  /** Presses on the views move them again. */
  function endPressing(): void {
    picking.value = null;
    laying.value = null;
    lining.value = false;
  }

  watch(
    selection,
    () => {
      endPressing();
      paintLevel.value = null;
      blade.value = null;
    },
    { flush: 'sync' }, // what is inserted and selected may ask for a press at once
  );

  return {
    selection,
    arrived,
    open,
    sheetMode,
    mapLook,
    backdrop,
    light,
    setLight,
    asSeen,
    refines,
    refined,
    standAlone,
    overlay,
    fieldOfView,
    wholeCard,
    side,
    place,
    behind,
    turning,
    swaying,
    walking,
    copies,
    filter,
    blendOrder,
    glass,
    softMarked,
    distance,
    picking,
    laying,
    lining,
    endPressing,
    look,
    other,
    showOther,
    texelMarks,
    paintLevel,
    curves,
    toggleCurve,
    blade,
    inserting,
    split,
    theme,
  };
});

/** As the browser keeps it; what makes no sense is as at first. */
function storedBehind(kept: unknown): Behind {
  return behindSchema.safeParse(kept).data ?? BEHIND_AT_FIRST;
}

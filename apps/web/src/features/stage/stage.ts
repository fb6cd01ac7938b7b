import {
  CLIP_DRAWING_DEFAULTS,
  PIECE_DEFAULTS,
  type CardSurface,
  type Change,
  type ClipDrawing,
  type MapName,
  type Mask,
  type Material,
  type Picture,
  type Raster,
  type Samples,
  type Wraps,
} from '@lithe-sieve/core';
import { shallowReactive } from 'vue';
import { tellTiming } from '../../engine/timing';
import { watch, type Watched } from '../../engine/watchdog';
import type { FlatView, MapLook, SheetMode } from '../../drawing/flat-view';
import type { LitView } from '../../drawing/lit/lit-view';
import type { PieceMaterial, Tint } from '../../drawing/drawn-piece';
import type { FromDrawing, ToDrawing, ViewDrawn } from '../../drawing/messages';
import type { Viewport } from '../../drawing/poses';
import { SheetPose } from '../../drawing/sheet-pose';
import { StandPose } from '../../drawing/stand-pose';
import type { BehindPicture, FarPicture, Summed } from '../../drawing/view-painter';
import { Asked } from './asked';
import { SentPiece } from './sent-piece';

export type ViewName = 'sheet' | 'stand';
type StandLook = Omit<LitView, 'kind' | 'id' | 'piece' | 'rect' | 'camera' | 'glass'>;

/** A card that is not the piece's, as it is drawn beside it. */
export interface OtherCard {
  colour: readonly Picture[];
  mask: readonly Mask[];
  surface: CardSurface;
  backTint: Tint | null;
  wraps: Wraps;
  material: PieceMaterial;
}
const CLIPPED_HARD = { drawn: CLIP_DRAWING_DEFAULTS };

let kept: Stage | null = null;

/**
 * The one stage of the page. It outlives the Bench: a context costs a second to set up, and going to the Hand-off and
 * back must not.
 */
export function theStage(): Stage {
  return (kept ??= new Stage());
}

/**
 * What the page knows of the two views: where they are looked at from and how. The drawing itself is done by a worker on
 * the same canvas; this sends it what changed, at most once a frame.
 */
export class Stage {
  readonly sheet = new SheetPose();
  readonly stand = new StandPose();
  /** Holds the canvas, which is another one after the graphics were lost. */
  readonly holder = document.createElement('div');
  /** Reactive: the largest side of a texture here, and what keeps the views from being drawn. */
  readonly graphics = shallowReactive({ maxSide: Infinity, fault: null as 'none' | 'lost' | null });
  /** Reactive: whether the views were drawn since the piece was opened. */
  readonly seen = shallowReactive({ sheet: false, stand: false });
  /** Reactive: the side of the card that the Stand shows, and the mip level that is read there. */
  readonly standAt = shallowReactive({ seesFront: true, level: 0, azimuth: 0 });
  /** Hears of each picture of the Stand, which comes after that of the Sheet. */
  whenStandDrawn: () => void = () => undefined;
  /** Hears how far the picture of the Stand is refined; null: it begins again. */
  whenRefined: (summed: Summed | null) => void = () => undefined;
  private worker!: Worker;
  private watched!: Watched;
  private readonly sent = new SentPiece((message) => this.send(message));
  private losses: number[] = [];
  private readonly stale = new Set<ViewName>();
  private frame = 0;
  private hasGlass = false;
  /** How many cards beside the piece were drawn. */
  private others = 0;
  private behindPicture: BehindPicture | null = null;
  private readonly far = new Asked<FarPicture>();
  private canvasSize = { width: 0, height: 0 };
  private views: Readonly<Record<ViewName, Viewport>> = { sheet: nowhere(), stand: nowhere() };
  private material: PieceMaterial = PIECE_DEFAULTS.material;
  /** How both are looked at. */
  private readonly sheetLook: Pick<FlatView, 'mode' | 'mapLook' | 'beneath' | 'softMarked'> = {
    mode: 'kept',
    mapLook: 'whole',
    beneath: false,
    softMarked: true,
  };

  private readonly standLook: StandLook = {
    environment: 'clear',
    drawn: CLIP_DRAWING_DEFAULTS,
  };

  constructor() {
    this.holder.className = 'drawing';
    this.holder.dataset['test'] = 'drawing';
    this.startDrawing();
  }

  private startDrawing(): void {
    const worker = new Worker(new URL('../../workers/draw.worker.ts', import.meta.url), { type: 'module' });
    worker.addEventListener('message', ({ data }: MessageEvent<FromDrawing>) => this.hear(data));
    const canvas = document.createElement('canvas');
    canvas.setAttribute('aria-hidden', 'true');
    this.holder.replaceChildren(canvas);
    const given = canvas.transferControlToOffscreen();
    this.watched = watch(
      worker,
      () => this.sent.largest,
      () => this.lose(),
    );
    const { alive } = this.watched;
    worker.postMessage({ type: 'start', canvas: given, alive } satisfies ToDrawing, [given]);
    this.worker = worker;
  }

  /**
   * After the graphics were lost (a driver that was reset, a process that was ended) a new canvas and worker take over.
   * Restoring the context of a canvas that a worker draws on ends the whole page in Chromium 15x.
   */
  private startAgain(): void {
    this.worker.terminate();
    this.far.giveUp(); // what was asked of it since
    this.watched.stop();
    this.startDrawing();
    this.sent.again();
    if (this.behindPicture) this.setBehindPicture(this.behindPicture);
    this.invalidate('sheet', 'stand');
  }

  private lose(): void {
    this.graphics.fault = 'lost';
    this.far.giveUp();
    this.losses = [...this.losses.filter((at) => at > performance.now() - LOSS_WINDOW_MS), performance.now()];
    if (this.losses.length <= LOSSES_MENDED) setTimeout(() => this.startAgain(), this.losses.length * 1000);
  }

  private hear(message: FromDrawing): void {
    if (message.type === 'ready') Object.assign(this.graphics, { maxSide: message.maxSide, fault: null });
    else if (message.type === 'drawn') this.note(message);
    else if (message.type === 'far') this.far.answer(message.turn, message.picture);
    else if (message.type === 'refined') this.whenRefined(message.views.find(({ id }) => id === 'stand') ?? null);
    else if (message.type === 'lost') this.lose();
    else if (message.type === 'no-graphics') this.graphics.fault = this.losses.length ? 'lost' : 'none';
  }

  private note({ views, ms }: { views: readonly ViewDrawn[]; ms: number }): void {
    for (const { id, piece } of views) if (piece === this.sent.key) this.seen[id as ViewName] = true;
    const [{ turn }] = views;
    tellTiming('frame', turn, ms);
    if (!views.some(({ id }) => id === 'stand')) return;
    tellTiming('stand', turn, ms);
    this.whenRefined(null);
    this.whenStandDrawn();
  }

  private send(message: ToDrawing): void {
    this.worker.postMessage(message);
  }

  /** Places of the views in CSS pixels of the canvas. */
  layOut(width: number, height: number, views: Record<ViewName, Viewport>): void {
    this.canvasSize = { width, height };
    this.views = views;
    this.invalidate('sheet', 'stand');
  }

  /**
   * @param levels - Level 0 first.
   * @param change - Against what was given last.
   * @param turn - The turn that this answers; null where it is none of the engine's.
   */
  setMap(map: MapName, levels: readonly Raster<Samples>[], change: Change = 'whole', turn: number | null = null): void {
    this.sent.texture(map, levels, { change, turn });
  }

  /** The same of a map that is known by an id: one that is there already is not uploaded again. */
  setKnown(map: MapName, levels: readonly Raster<Samples>[], id: string): void {
    this.sent.texture(map, levels, { key: id });
  }

  /** The mip levels that the target has instead of the mask's own; null: it has these. */
  setClip(levels: readonly Mask[] | null): void {
    this.sent.textureOrNone('clip', levels);
  }

  /** Shows a source on the Sheet instead of the result; null goes back. */
  setSource(picture: Picture | null): void {
    this.sent.textureOrNone('source', picture && [picture]);
  }

  /** A stroke under way wrote into level 0 of a map; its smaller levels follow when it ends. */
  patchMap(map: MapName, level: Raster<Samples>, change: Change): void {
    this.sent.part(map, level, change);
  }

  /** Forgets every map beside colour and mask that is not among these. */
  keepMaps(names: readonly MapName[]): void {
    this.sent.keepMaps(names);
  }

  /** @param surface - Its longer side is 1. @param backTint - null: its back looks as its front. */
  setSurface(surface: CardSurface, backTint: Tint | null, wraps: Wraps): void {
    this.stand.setSurface(surface);
    this.sent.surface(surface, backTint, wraps);
  }

  /** The material and what the Sheet shows: numbers only, nothing is computed. */
  setLook(
    mode: SheetMode,
    mapLook: MapLook,
    { mode: alphaMode, cutoff, opacity, doubleSided, emission }: Material,
    { by, samples }: ClipDrawing,
    beneath = false,
  ): void {
    const isOther = (was: object, now: object) => JSON.stringify(was) !== JSON.stringify(now);
    const material = { mode: alphaMode, cutoff, opacity, doubleSided, emission };
    const sheetLook = { ...this.sheetLook, mode, mapLook, beneath };
    const drawn = { by, samples };
    if (isOther(this.sheetLook, sheetLook)) this.invalidate('sheet');
    if (isOther(this.standLook.drawn, drawn)) this.invalidate('stand');
    if (isOther(this.material, material)) {
      this.material = material;
      this.invalidate('sheet', 'stand');
    }
    Object.assign(this.sheetLook, sheetLook);
    this.standLook.drawn = drawn;
  }

  /** Whether the middle of the card is shown larger; see {@link glassIn}. */
  setGlass(isOn: boolean): void {
    this.hasGlass = isOn;
    this.invalidate('stand');
  }

  /** How the card is looked at on the Stand. */
  setStandLook(change: Partial<StandLook>): void {
    Object.assign(this.standLook, change);
    this.invalidate('stand');
  }

  /** A picture that the Stand may show behind the card. */
  setBehindPicture(picture: BehindPicture): void {
    this.behindPicture = picture;
    this.send({ type: 'behind', picture });
  }

  /** See {@link FlatView}. */
  markSoft(marked: boolean): void {
    this.sheetLook.softMarked = marked;
    this.invalidate('sheet');
  }

  view(name: ViewName): Viewport {
    return this.views[name];
  }

  get pixelRatio(): number {
    return window.devicePixelRatio;
  }

  /** Redraws these views. */
  invalidate(...names: ViewName[]): void {
    for (const name of names) this.stale.add(name);
    this.frame ||= requestAnimationFrame(() => this.show());
  }

  /** How the card is drawn at a distance, in sides of the card; null where the device cannot say, or was lost. */
  farPicture(distance: number, side: number): Promise<FarPicture | null> {
    const view = { ...this.standView(), copies: 1 };
    return this.far.ask((turn) =>
      this.send({ type: 'far', view: { ...view, camera: { ...view.camera, distance } }, side, turn }),
    );
  }

  /**
   * Another picture on a card, from the front and under the light of the Stand; null where the device cannot say, or was lost.
   *
   * @param side - Of the picture, pixels.
   */
  async cardOf(
    { colour, mask, surface, backTint, wraps, material }: OtherCard,
    side: number,
  ): Promise<FarPicture | null> {
    if (this.views.stand.width < 2) {
      // nobody has looked at the Bench yet: the worker needs room for one view
      const room = { x: 0, y: 0, width: 2 * side, height: 2 * side };
      this.layOut(room.width, room.height, { sheet: nowhere(), stand: room });
      await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
    }
    const piece = `beside ${++this.others}`;
    const pose = new StandPose();
    pose.setSurface(surface);
    const texture = { type: 'texture', piece, key: null, change: 'whole', turn: null } as const;
    this.send({ ...texture, place: 'colour', levels: colour });
    this.send({ ...texture, place: 'mask', levels: mask });
    this.send({ type: 'surface', piece, mesh: surface.mesh, plain: surface.plain, backTint, wraps });
    this.send({ type: 'material', piece, material });
    const { drawn } = CLIPPED_HARD;
    const view: LitView = { ...this.standView(), piece, camera: pose.look, copies: 1, drawn, glass: undefined };
    const picture = await this.far.ask((turn) => this.send({ type: 'far', view, side, turn }));
    this.send({ type: 'forget', piece });
    return picture;
  }

  private standView(): LitView {
    const { views, stand } = this;
    const [camera, rect, piece] = [stand.look, views.stand, this.sent.key];
    const glass = this.hasGlass ? glassIn(rect) : undefined;
    return { kind: 'lit', id: 'stand', piece, rect, camera, glass, ...this.standLook };
  }

  private show(): void {
    this.frame = 0;
    const { views, sheet, stand, pixelRatio } = this;
    const piece = this.sent.key;
    const flat: FlatView = { kind: 'flat', id: 'sheet', piece, rect: views.sheet, look: sheet.look, ...this.sheetLook };
    const level = stand.mipLevel(sheet.look.picture.height, views.stand, pixelRatio);
    Object.assign(this.standAt, { seesFront: stand.seesFront, level, azimuth: stand.look.azimuth });
    const scenery = { canvas: this.canvasSize, pixelRatio, views: [flat, this.standView()] };
    this.sent.material(this.material); // with the scenery: by itself it would be drawn twice
    this.send({ type: 'show', scenery, stale: [...this.stale] });
    this.stale.clear();
    tellTiming('shown');
  }

  /** Frees the pictures of a piece that was left. */
  forget(): void {
    cancelAnimationFrame(this.frame);
    this.frame = 0;
    this.sent.forget();
    this.invalidate('sheet', 'stand');
    Object.assign(this.seen, { sheet: false, stand: false });
  }
}

/** Where the middle of the card is shown larger, in the Stand. */
export function glassIn({ width }: Viewport): Viewport {
  return { x: width - GLASS - 10, y: 46, width: GLASS, height: GLASS };
}
/** CSS pixels: a whole number of pixels that are shown eight times as large. */
const GLASS = 160;

/** Graphics that are lost oftener than this in a minute are not asked for again: a reload may help. */
const LOSSES_MENDED = 3;
const LOSS_WINDOW_MS = 60_000;

function nowhere(): Viewport {
  return { x: 0, y: 0, width: 0, height: 0 };
}

import {
  pinnedBlades,
  CORNERS,
  rootSpan,
  spineOf,
  type Recipe,
  type RecipeKindName,
  type RecipeParams,
  type TuftParams,
} from '@lithe-sieve/core';
import { movedPin, pinOf, turnedPin, withPin } from './blade-pins';

/** A point on the Sheet that is dragged; places are shares of the card's width from its top left. */
export interface Handle {
  id: string;
  /** What it moves, for a person. */
  label: string;
  x: number;
  y: number;
  /** Which ways it goes. */
  goes: 'anywhere' | 'up and down' | 'sideways';
  /** What it makes of the recipe when it is dragged to a place. */
  to(x: number, y: number): object;
}

/** Handles, lines that are drawn between them, and marks of what may have handles. */
export interface Handles {
  points: Handle[];
  lines: { name: string; ids: string[] }[];
  marks?: Mark[];
}

/** A line that is drawn by itself; places are shares of the card's width. */
export interface Mark {
  points: { x: number; y: number }[];
  on: boolean;
}

/** What a maker knows beside the parameters. */
interface About {
  ratio: number;
  version: number;
  /** The pinned blade that has handles. */
  blade: number | null;
}

type Maker<K extends RecipeKindName> = (params: RecipeParams[K], about: About) => Handles;

const rounded = (v: number) => Math.round(v * 1000) / 1000;
const within = (v: number, least: number, most: number) => rounded(Math.min(most, Math.max(least, v)));

/** An end of a line, whose place are the parameters `idX` and `idY`, shares of the card. */
function endOf(id: string, label: string, x: number, y: number, ratio: number): Handle {
  return {
    id,
    label,
    x,
    y: y * ratio,
    goes: 'anywhere',
    to: (toX, toY) => ({ [`${id}X`]: within(toX, -0.5, 1.5), [`${id}Y`]: within(toY / ratio, -0.5, 1.5) }),
  };
}

const tuftHandles: Maker<'tuft'> = (params, { ratio, version, blade: chosen }) => {
  const { fromX, fromY, toX, toY, envelope } = params;
  const end = (id: 'from' | 'to', label: string) => endOf(id, label, params[`${id}X`], params[`${id}Y`], ratio);
  // heights are above the root line, or its end where it does not reach
  const rootAt = (x: number) => {
    const share = toX === fromX ? 0 : Math.min(1, Math.max(0, (x - fromX) / (toX - fromX)));
    return fromY + (toY - fromY) * share;
  };
  const { left, right } = version < 2 ? { left: 0, right: 1 } : rootSpan(params);
  const tops = envelope.map((height, k): Handle => {
    const x = left + (right - left) * (envelope.length === 1 ? 0.5 : k / (envelope.length - 1));
    return {
      id: `top ${k}`,
      label: `Height ${k + 1} of ${envelope.length}`,
      x,
      y: (rootAt(x) - height) * ratio,
      goes: 'up and down',
      to: (_x, y) => ({ envelope: envelope.map((v, i) => (i === k ? within(rootAt(x) - y / ratio, 0, 2) : v)) }),
    };
  });
  const pins = pinHandles(params, { ratio, version, blade: chosen });
  return {
    points: [
      ...tops,
      end('from', 'Left end of the root line'),
      end('to', 'Right end of the root line'),
      ...pins.points,
    ],
    marks: pins.marks,
    lines: [
      { name: 'root', ids: ['from', 'to'] },
      { name: 'envelope', ids: tops.map((t) => t.id) },
    ],
  };
};

/** Pinned blades along their middle; one of them by its root and its tip. */
function pinHandles(params: TuftParams, { ratio, version, blade: chosen }: About) {
  const blades = pinnedBlades(params, { ratio, version });
  const marks = blades.map((blade): Mark => ({ points: spineOf(blade), on: blade.index === chosen }));
  const one = blades.find((blade) => blade.index === chosen);
  if (!one) return { points: [], marks };
  const pin = pinOf(params, one, ratio);
  const tip = spineOf(one).at(-1)!;
  const name = `blade ${one.index + 1}`;
  const points: Handle[] = [
    {
      id: 'blade root',
      label: `Root of ${name}`,
      x: one.x,
      y: one.y,
      goes: 'anywhere',
      to: (x, y) => ({ pinned: withPin(params, movedPin(pin, one, { x, y }, ratio)) }),
    },
    {
      id: 'blade tip',
      label: `Tip of ${name}`,
      x: tip.x,
      y: tip.y,
      goes: 'anywhere',
      to: (x, y) => ({ pinned: withPin(params, turnedPin(one, pin, tip, { x, y })) }),
    },
  ];
  return { points, marks };
}

const weaveHandles: Maker<'weave'> = ({ pitch, across, sag, seamless, corners = CORNERS }, { ratio }) => {
  const pitchPoint: Handle = {
    id: 'pitch',
    label: 'Pitch',
    x: pitch / across,
    y: ratio / 2,
    goes: 'sideways',
    to: (x) => ({ pitch: within(x * across, 0.5, 2000) }),
  };
  const start: Handle = { ...pitchPoint, id: 'start', x: 0, to: () => ({}) };
  const hung: Handle = {
    id: 'sag',
    label: 'Sag',
    x: 0.5,
    y: sag,
    goes: 'up and down',
    to: (_x, y) => ({ sag: within(y, 0, 0.5) }),
  };
  const hooks = ['Top left', 'Top right', 'Bottom right', 'Bottom left'].map((name, k): Handle => ({
    id: `corner ${k}`,
    label: `${name} corner`,
    x: corners[2 * k],
    y: corners[2 * k + 1] * ratio,
    goes: 'anywhere',
    to: (x, y) => ({ corners: corners.with(2 * k, within(x, -1, 2)).with(2 * k + 1, within(y / ratio, -1, 2)) }),
  }));
  return {
    points: seamless ? [pitchPoint, start] : [...hooks, pitchPoint, start, hung],
    lines: [
      { name: 'pitch', ids: ['start', 'pitch'] },
      ...(seamless ? [] : [{ name: 'hung', ids: [0, 1, 2, 3, 0].map((k) => `corner ${k}`) }]),
    ],
  };
};

const sprayHandles: Maker<'spray'> = (params, { ratio }) => {
  const end = (id: 'root' | 'tip', label: string) => endOf(id, label, params[`${id}X`], params[`${id}Y`], ratio);
  const [root, tip] = [end('root', 'Root of the stem'), end('tip', 'Tip of the stem')];
  // to the side of the straight line between them, as far as the middle of the arc: half the chord times tan (bend / 4)
  const [dx, dy] = [tip.x - root.x, tip.y - root.y];
  const chord = Math.max(1e-6, Math.hypot(dx, dy));
  const out = (chord / 2) * Math.tan((params.bend * Math.PI) / 720);
  const middle: Handle = {
    id: 'bend',
    label: 'Bend of the stem',
    x: (root.x + tip.x) / 2 + (dy / chord) * out,
    y: (root.y + tip.y) / 2 - (dx / chord) * out,
    goes: 'anywhere',
    to(x, y) {
      const far = ((x - (root.x + tip.x) / 2) * dy - (y - (root.y + tip.y) / 2) * dx) / chord;
      return { bend: Math.round(Math.min(170, Math.max(-170, (720 * Math.atan((2 * far) / chord)) / Math.PI))) };
    },
  };
  return { points: [middle, root, tip], lines: [{ name: 'root', ids: ['root', 'bend', 'tip'] }] };
};

const strandsHandles: Maker<'strands'> = ({ guides }, { ratio }) => {
  const points = guides.flatMap((guide, g) =>
    [0, 1, 2, 3].map((n): Handle => ({
      id: `guide ${g} ${n}`,
      label: `Guide ${g + 1}, ${['root', 'first bend', 'second bend', 'tip'][n]}`,
      x: guide[2 * n],
      y: guide[2 * n + 1] * ratio,
      goes: 'anywhere',
      to: (x, y) => ({
        guides: guides.map((other, i) =>
          i === g ? other.with(2 * n, within(x, -1, 2)).with(2 * n + 1, within(y / ratio, -1, 2)) : other,
        ),
      }),
    })),
  );
  const lines = guides.map((_, g) => ({ name: 'guide', ids: [0, 1, 2, 3].map((n) => `guide ${g} ${n}`) }));
  return { points, lines };
};

/** Each part by its middle, and turned by its tip. */
const atlasHandles: Maker<'atlas'> = ({ placed }) => {
  const set = (k: number, change: object) => ({ placed: placed.map((p, i) => (i === k ? { ...p, ...change } : p)) });
  const points = placed.flatMap(({ x, y, turn, tall }, k): Handle[] => {
    const way = (turn * Math.PI) / 180;
    const middle: Handle = {
      id: `part ${k}`,
      label: `Part ${k + 1}`,
      x,
      y,
      goes: 'anywhere',
      to: (toX, toY) => set(k, { x: within(toX, -1, 2), y: within(toY, -1, 2) }),
    };
    const tip: Handle = {
      id: `tip ${k}`,
      label: `Turn of part ${k + 1}`,
      x: x + (Math.sin(way) * tall) / 2,
      y: y - (Math.cos(way) * tall) / 2,
      goes: 'anywhere',
      to: (toX, toY) => set(k, { turn: Math.round((Math.atan2(toX - x, y - toY) * 180) / Math.PI) }),
    };
    return [tip, middle];
  });
  return { points, lines: placed.map((_, k) => ({ name: 'part', ids: [`part ${k}`, `tip ${k}`] })) };
};

const MAKERS: { [K in RecipeKindName]: Maker<K> } = {
  tuft: tuftHandles,
  spray: sprayHandles,
  strands: strandsHandles,
  weave: weaveHandles,
  atlas: atlasHandles,
};

/** What of a recipe is dragged on the Sheet. @param blade - The pinned blade that has handles. */
export function handlesOf({ kind, params, width, height, version }: Recipe, blade: number | null): Handles {
  return (MAKERS[kind] as Maker<RecipeKindName>)(params, { ratio: height / width, version, blade });
}

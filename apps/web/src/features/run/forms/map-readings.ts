import {
  CHANNELS,
  COLOUR_ORIGINS,
  DIMMINGS,
  MAP_NAMES,
  mapKind,
  type ColourMapParams,
  type MapName,
} from '@lithe-sieve/core';
import type { Field } from './fields';

/** Maps that have channels to choose from. */
const hasChannels = (map: MapName) => mapKind(map).channels > 1;

/** Another map of the run, and how it is read. */
export const readMap = <P extends { map: MapName; channel: string }>(when: (params: P) => boolean) =>
  [
    { as: 'choice', name: 'map', label: 'Map', options: MAP_NAMES, names: MAP_LABELS, list: true, when },
    {
      as: 'choice',
      name: 'channel',
      label: 'Channel',
      options: CHANNELS,
      list: true,
      when: (params: P) => when(params) && hasChannels(params.map),
    },
  ] as unknown as Field<P>[];
const MAP_LABELS = Object.fromEntries(MAP_NAMES.map((map) => [map, mapKind(map).label]));

const dims = ({ dimmedBy }: ColourMapParams) => dimmedBy === 'a map';

/** Fields of the steps that make colours. */
export const COLOUR_MAP: readonly Field<ColourMapParams>[] = [
  { as: 'choice', name: 'from', label: 'Colour of', options: COLOUR_ORIGINS },
  { as: 'source', name: 'sourceId', label: 'From', colourToo: true, when: ({ from }) => from === 'picture' },
  { as: 'colour', name: 'colour', label: 'Colour', when: ({ from }) => from === 'one colour' },
  { as: 'number', name: 'brightness', label: 'Brightness', hint: 'Multiplies the light: half is half the light.' },
  { as: 'choice', name: 'dimmedBy', label: 'Dimmed by', options: DIMMINGS },
  ...readMap<ColourMapParams>(dims),
  { as: 'toggle', name: 'inverted', label: 'Inverted', when: dims },
  { as: 'number', name: 'offset', label: 'Offset', hint: 'Added to the values of the map.', when: dims },
  { as: 'number', name: 'gain', label: 'Gain', hint: 'Multiplies them.', when: dims },
];

import { CreateTables1764028800000 } from './1764028800000-CreateTables.ts';
import { AddAllowedFolders1764115200000 } from './1764115200000-AddAllowedFolders.ts';
import { AddStrokes1764201600000 } from './1764201600000-AddStrokes.ts';
import { AddSequences1764288000000 } from './1764288000000-AddSequences.ts';
import { AddFullSize1764374400000 } from './1764374400000-AddFullSize.ts';
import { AddViews1764460800000 } from './1764460800000-AddViews.ts';
import { AddStandViews1764547200000 } from './1764547200000-AddStandViews.ts';
import { AddKeptProfiles1764633600000 } from './1764633600000-AddKeptProfiles.ts';
import { AddKeptOutputs1764720000000 } from './1764720000000-AddKeptOutputs.ts';
import { AddKeptStarts1764806400000 } from './1764806400000-AddKeptStarts.ts';

/** In order. */
export const MIGRATIONS = [
  CreateTables1764028800000,
  AddAllowedFolders1764115200000,
  AddStrokes1764201600000,
  AddSequences1764288000000,
  AddFullSize1764374400000,
  AddViews1764460800000,
  AddStandViews1764547200000,
  AddKeptProfiles1764633600000,
  AddKeptOutputs1764720000000,
  AddKeptStarts1764806400000,
];

import { BlobChunk } from './entities/blob.ts';
import { AllowedFolder } from './entities/folder.ts';
import { JobEntity } from './entities/job.ts';
import { History, PieceEntity } from './entities/piece.ts';
import { OutputEntity } from './entities/output.ts';
import { KeptProfileEntity } from './entities/profile.ts';
import { SourceFile } from './entities/source.ts';
import { KeptStartEntity } from './entities/start.ts';
import { StrokeEntity } from './entities/stroke.ts';
import { StandView } from './entities/view.ts';

/** Every table. */
export const ENTITIES = [
  BlobChunk,
  SourceFile,
  PieceEntity,
  History,
  JobEntity,
  AllowedFolder,
  StrokeEntity,
  StandView,
  KeptProfileEntity,
  OutputEntity,
  KeptStartEntity,
];

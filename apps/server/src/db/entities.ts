import { BlobChunk } from './entities/blob.ts';
import { AllowedFolder } from './entities/folder.ts';
import { JobEntity } from './entities/job.ts';
import { History, PieceEntity } from './entities/piece.ts';
import { KeptProfile, KeptStart, StandView } from './entities/named.ts';
import { OutputEntity } from './entities/output.ts';
import { SourceFile } from './entities/source.ts';
import { StrokeEntity } from './entities/stroke.ts';

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
  KeptProfile,
  OutputEntity,
  KeptStart,
];

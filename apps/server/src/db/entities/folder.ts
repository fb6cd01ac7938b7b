import { EntitySchema } from 'typeorm';

/** A folder on disk whose files may be followed. */
export interface AllowedFolderRow {
  path: string;
}
export const AllowedFolder = new EntitySchema<AllowedFolderRow>({
  name: 'allowed_folder',
  columns: { path: { type: 'text', primary: true } },
});

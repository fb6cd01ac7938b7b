import {
  materialDescriptionSchema,
  PROFILE_FORM,
  profileFileSchema,
  z,
  type KeptProfile,
  type ProfileFile,
} from '@lithe-sieve/contract';

/** A profile in a file, to go to another studio. */
export function profileFile(name: string, profile: KeptProfile): Blob {
  const file: ProfileFile = { form: 'lithe-sieve-profile', version: PROFILE_FORM, name, profile };
  return new Blob([`${JSON.stringify(file, null, 2)}\n`], { type: 'application/json' });
}

/** Larger ones are no profiles. */
const MOST_BYTES = 1e6;

/** What a file holds. @throws Error in words, where it is no profile. */
export async function readProfileFile(file: File): Promise<ProfileFile> {
  if (file.size > MOST_BYTES) throw new Error(`${file.name} is far larger than a profile.`);
  let value: unknown;
  try {
    value = JSON.parse(await file.text());
  } catch {
    throw new Error(`${file.name} is no JSON.`);
  }
  const read = profileFileSchema.safeParse(value);
  if (read.success) return read.data;
  const [{ path, message }] = read.error.issues;
  throw new Error(`${file.name} is no profile: ${path.length > 0 ? `${path.join('.')}: ` : ''}${message}`);
}

/** How such a file is made up, for those who write one. */
export const profileSchemaFile = () => schemaFile(profileFileSchema);
/** How the description of a hand-off is made up, for those who read one. */
export const descriptionSchemaFile = () => schemaFile(materialDescriptionSchema);

/** JSON Schema, draft 2020-12. */
function schemaFile(of: z.ZodType): Blob {
  const schema = z.toJSONSchema(of, { unrepresentable: 'any', io: 'input' });
  return new Blob([`${JSON.stringify(schema, null, 2)}\n`], { type: 'application/schema+json' });
}

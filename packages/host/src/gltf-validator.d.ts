/** The part of the official glTF validator that is used here; it brings no types of its own. */
declare module 'gltf-validator' {
  export function validateBytes(
    bytes: Uint8Array,
    options?: { externalResourceFunction?: (uri: string) => Promise<Uint8Array> },
  ): Promise<{
    issues: { messages: { severity: number; code: string; message: string }[] };
  }>;
}

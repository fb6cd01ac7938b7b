declare module 'gltf-validator' {
  export function validateBytes(bytes: Uint8Array): Promise<{
    issues: { numErrors: number; numWarnings: number; messages: { severity: number; code: string }[] };
    info: Record<string, unknown>;
  }>;
}
declare module 'culori' {
  export function converter(
    mode: 'oklab',
  ): (colour: { mode: 'rgb'; r: number; g: number; b: number }) => { l: number; a: number; b: number };
  export function converter(
    mode: 'rgb',
  ): (colour: { mode: 'oklab'; l: number; a: number; b: number }) => { r: number; g: number; b: number };
}

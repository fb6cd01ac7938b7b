/** The part of the WebAssembly API that is used here; TypeScript describes it in its browser library only. */
declare namespace WebAssembly {
  interface Module {
    readonly [Symbol.toStringTag]: string;
  }
  function compile(bytes: Uint8Array): Promise<Module>;
}

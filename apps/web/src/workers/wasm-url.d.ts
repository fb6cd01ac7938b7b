declare module '*.wasm?url' {
  const address: string;
  export default address;
}

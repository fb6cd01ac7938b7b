// The kernels that core runs as WebAssembly: `npm run kernels` compiles them into src/simd/kernels.ts.
export * from './horizons';
export * from './normals';
export * from './paint';
export * from './push-pull';
export * from './resample';

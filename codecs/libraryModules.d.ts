declare module 'libraw-wasm/dist/libraw.js' {
  const start: (options: object) => Promise<unknown>;
  export default start;
}
declare module 'libheif-js/libheif-wasm/libheif-bundle.mjs' {
  const start: (options?: object) => Promise<unknown>;
  export default start;
}

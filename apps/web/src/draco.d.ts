declare module "draco3dgltf/draco_decoder_gltf_nodejs.js" {
  /** Makes the decoder from the bytes of its WebAssembly. */
  export default function createDecoder(options: { wasmBinary: ArrayBuffer }): Promise<unknown>;
}

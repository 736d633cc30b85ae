import { Logger, WebIO } from "@gltf-transform/core";
import { EXTMeshoptCompression, KHRDracoMeshCompression, KHRMeshQuantization, KHRTextureTransform } from "@gltf-transform/extensions";
import createDecoder from "draco3dgltf/draco_decoder_gltf_nodejs.js";
import decoderFile from "draco3dgltf/draco_decoder_gltf.wasm?url";

/** A file with Draco's packing undone, for drawing: its numbers as they are unpacked, everything else as it is known. */
export async function unpackDraco(bytes: Uint8Array): Promise<Uint8Array> {
  const wasmBinary = await (await fetch(decoderFile)).arrayBuffer();
  const io = new WebIO()
    .setLogger(new Logger(Logger.Verbosity.SILENT))
    .registerExtensions([KHRDracoMeshCompression, KHRMeshQuantization, KHRTextureTransform, EXTMeshoptCompression])
    .registerDependencies({ "draco3d.decoder": await createDecoder({ wasmBinary }) });
  const isBinary = bytes[0] === 0x67;
  const document = isBinary
    ? await io.readBinary(bytes as Uint8Array<ArrayBuffer>)
    : await io.readJSON({ json: JSON.parse(new TextDecoder().decode(bytes)), resources: {} });
  for (const extension of document.getRoot().listExtensionsUsed()) if (extension instanceof KHRDracoMeshCompression) extension.dispose();
  return io.writeBinary(document);
}

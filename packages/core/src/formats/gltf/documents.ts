import { Document, type JSONDocument, Logger, WebIO } from "@gltf-transform/core";
import { EXTMeshoptCompression } from "@gltf-transform/extensions";
import { MeshoptDecoder } from "meshoptimizer/decoder";

const quiet = new Logger(Logger.Verbosity.SILENT);

/** Reads and writes documents in page, worker and Node alike: nothing of it touches files or the network. */
const makeIO = () =>
  new WebIO().setLogger(quiet).registerExtensions([EXTMeshoptCompression]).registerDependencies({ "meshopt.decoder": MeshoptDecoder });

export function makeDocument(): Document {
  return new Document().setLogger(quiet);
}

export async function openDocument(given: JSONDocument): Promise<Document> {
  await MeshoptDecoder.ready;
  return makeIO().readJSON(given);
}

export function packBinary(document: Document): Promise<Uint8Array> {
  return makeIO().writeBinary(document);
}

/** The document as JSON with its data inside; `toBase64` says bytes as text. */
export async function packText(document: Document, toBase64: (bytes: Uint8Array) => string): Promise<string> {
  const { json, resources } = await makeIO().writeJSON(document, {});
  const buffers = json.buffers?.map(({ uri, ...buffer }) =>
    uri !== undefined && resources[uri] ? { ...buffer, uri: `data:application/octet-stream;base64,${toBase64(resources[uri])}` } : buffer,
  );
  return JSON.stringify(buffers ? { ...json, buffers } : json);
}

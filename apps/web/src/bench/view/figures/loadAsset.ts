import { drawable, KneaderError } from "@kneader/core";
import { type BufferGeometry, type Material, Mesh, type Object3D, type Texture } from "three";
import { type GLTFParser, GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { assets } from "../../../storage/kept.ts";

/** A file's scene with its shapes and surfaces, for figures to be made of. */
export interface LoadedAsset {
  readonly hash: string;
  readonly scene: Object3D;
}

interface Held {
  readonly loading: Promise<LoadedAsset>;
  users: number;
}

const held = new Map<string, Held>();

/**
 * The scene of a kept file, read once for all who draw it; whoever asks lets go of it with `releaseAsset`. Errors:
 * `no-asset` when the file is not in this browser, `gltf-data` when it cannot be drawn.
 */
export function takeAsset(hash: string): Promise<LoadedAsset> {
  let one = held.get(hash);
  if (!one) {
    one = { loading: load(hash), users: 0 };
    held.set(hash, one);
    // What failed is tried anew by whoever asks next.
    one.loading.catch(() => held.delete(hash));
  }
  one.users++;
  return one.loading;
}

/** The last one to let go frees what is on the graphics card. */
export function releaseAsset(hash: string): void {
  const one = held.get(hash);
  if (!one || --one.users > 0) return;
  held.delete(hash);
  void one.loading.then(({ scene }) => disposeScene(scene)).catch(() => undefined);
}

async function load(hash: string): Promise<LoadedAsset> {
  const bytes = await assets.get(hash);
  if (!bytes)
    throw new KneaderError(
      "no-asset",
      "The file this character came from is no longer in this browser.",
      "Hand it over again to see the character; the motion is all here.",
    );
  try {
    const plain = await plainFile(drawable(bytes));
    const loader = new GLTFLoader();
    if (uses(bytes, "EXT_meshopt_compression")) loader.setMeshoptDecoder((await import("meshoptimizer/decoder")).MeshoptDecoder);
    // Pictures of a kind that is not shown are left out.
    loader.register(
      (parser) => ({ name: "KHR_texture_basisu", loadTexture: (i: number) => (isKtx(parser, i) ? Promise.resolve(null) : null) }) as never,
    );
    const { scene, parser } = await loader.parseAsync(plain.slice().buffer as ArrayBuffer, "");
    scene.traverse((object) => {
      const node = parser.associations.get(object)?.nodes;
      if (node !== undefined) object.userData.kneaderNode = node;
    });
    return { hash, scene };
  } catch (error) {
    throw new KneaderError(
      "gltf-data",
      `The character cannot be drawn: ${String((error as Error)?.message ?? error).slice(0, 200)}.`,
      "Its motion can be worked on all the same.",
    );
  }
}

const isKtx = ({ json }: GLTFParser, i: number): boolean => json.textures?.[i]?.extensions?.KHR_texture_basisu !== undefined;

/** Does a file's JSON, which stands at its beginning, name an extension? */
function uses(bytes: Uint8Array, extension: string): boolean {
  const isBinary = bytes[0] === 0x67;
  const length = isBinary ? new DataView(bytes.buffer, bytes.byteOffset).getUint32(12, true) : bytes.length;
  const text = new TextDecoder().decode(bytes.subarray(isBinary ? 20 : 0, (isBinary ? 20 : 0) + length));
  return text.includes(`"${extension}"`);
}

/** The file without Draco's packing, which is undone here. */
async function plainFile(bytes: Uint8Array): Promise<Uint8Array> {
  if (!uses(bytes, "KHR_draco_mesh_compression")) return bytes;
  const { unpackDraco } = await import("./unpackDraco.ts");
  return unpackDraco(bytes);
}

function disposeScene(scene: Object3D): void {
  const done = new Set<BufferGeometry | Material | Texture>();
  scene.traverse((object) => {
    if (!(object instanceof Mesh)) return;
    done.add(object.geometry);
    for (const material of [object.material].flat() as Material[]) {
      done.add(material);
      for (const value of Object.values(material)) if ((value as Texture | null)?.isTexture) done.add(value as Texture);
    }
  });
  for (const one of done) one.dispose();
}

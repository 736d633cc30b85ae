import { countedWord } from "../../words.ts";
import { encodeText } from "../utf8.ts";
import { toGlb } from "./container.ts";
import { type GltfFile, openGltf } from "./gate.ts";
import { readNumbers, type Wanted } from "./numbers.ts";

/** Weights of more vertices than this are not looked through. */
const MOST_LOOKED_AT = 500_000;

/** The meshes that nodes bind to a skin though they say for no vertex what moves it, by number. */
function meshesWithoutJoints({ json }: GltfFile): Set<number> {
  const bound = (json.nodes ?? []).flatMap(({ mesh, skin }) => (mesh !== undefined && skin !== undefined ? [mesh] : []));
  return new Set(
    bound.filter((mesh) =>
      json.meshes?.[mesh]?.primitives.some(({ attributes }) => attributes.JOINTS_0 === undefined || attributes.WEIGHTS_0 === undefined),
    ),
  );
}

/** What to say of the skins of a file: meshes without skin data, vertices that nothing moves. */
export async function checkSkins(file: GltfFile): Promise<string[]> {
  const { json } = file;
  const notes: string[] = [];
  const without = meshesWithoutJoints(file);
  if (without.size > 0)
    notes.push(
      `${countedWord(without.size, "mesh", "meshes")} bound to a skin without saying which joints move it; drawn as it stands, and kept as it is.`,
    );
  const wanted = (json.meshes ?? []).flatMap(({ primitives }): Wanted[] =>
    primitives.flatMap(({ attributes }) => {
      const accessor = attributes.WEIGHTS_0;
      const known = accessor === undefined ? undefined : json.accessors?.[accessor];
      // Packed with Draco it has no data here; the view unpacks it.
      if (accessor === undefined || !known || (known.bufferView === undefined && !known.sparse)) return [];
      return [{ accessor, types: ["VEC4"], what: "Weights of a skin" }];
    }),
  );
  if (wanted.reduce((sum, { accessor }) => sum + (json.accessors?.[accessor].count ?? 0), 0) > MOST_LOOKED_AT) return notes;
  try {
    let unmoved = 0;
    for (const weights of (await readNumbers(file, wanted)).values())
      for (let i = 0; i < weights.length; i += 4) if (weights[i] + weights[i + 1] + weights[i + 2] + weights[i + 3] === 0) unmoved++;
    if (unmoved > 0)
      notes.push(
        `${countedWord(unmoved, "vertex", "vertices")} with weights that sum to 0; drawn with the first joint, and kept as ${unmoved === 1 ? "it is" : "they are"}.`,
      );
  } catch (error) {
    notes.push(`Weights of its skin cannot be read (${String((error as Error)?.message ?? error).slice(0, 120)}); the motion is whole.`);
  }
  return notes;
}

/** The file as it can be drawn: what is bound to a skin without skin data stands unbound. Mostly the very same bytes. */
export function drawable(bytes: Uint8Array): Uint8Array {
  const file = openGltf(bytes);
  const without = meshesWithoutJoints(file);
  if (without.size === 0) return bytes;
  const nodes = (file.whole.nodes as Record<string, unknown>[]).map(({ skin, ...node }) =>
    skin !== undefined && !without.has(node.mesh as number) ? { ...node, skin } : node,
  );
  const json = { ...file.whole, nodes };
  return file.isBinary ? toGlb(json, file.buffers[0] ?? new Uint8Array()) : encodeText(JSON.stringify(json));
}

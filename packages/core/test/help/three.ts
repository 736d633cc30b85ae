import { AnimationMixer, type Object3D, PropertyBinding, Vector3 } from "three";
import { BVHLoader } from "three/examples/jsm/loaders/BVHLoader.js";
import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";

// three's loader reports its progress with an event that Node does not have.
Object.assign(globalThis, { ProgressEvent: class extends Event {} });

/** World places of named joints at some seconds, as three plays a file: by joint, then by time. */
type Played = (names: readonly string[], seconds: readonly number[]) => Vector3[][];

function player(top: Object3D, mixer: AnimationMixer, duration: number): Played {
  return (names, seconds) => {
    const objects = names.map((name) => top.getObjectByName(name) ?? top.getObjectByName(PropertyBinding.sanitizeNodeName(name)));
    const places: Vector3[][] = names.map(() => []);
    for (const at of seconds) {
      // The last frame would wrap to the first, so it comes a hair early.
      mixer.setTime(Math.min(at, duration - 1e-6));
      top.updateMatrixWorld(true);
      objects.forEach((object, i) => {
        if (!object) throw new Error(`three knows no joint "${names[i]}"`);
        places[i].push(new Vector3().setFromMatrixPosition(object.matrixWorld));
      });
    }
    return places;
  };
}

export async function gltfInThree(bytes: Uint8Array): Promise<Played> {
  const file = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  const { scene, animations } = await new GLTFLoader().parseAsync(file, "");
  const mixer = new AnimationMixer(scene);
  if (animations.length > 0) mixer.clipAction(animations[0]).play();
  return player(scene, mixer, animations[0]?.duration ?? 1);
}

export function bvhInThree(text: string): Played {
  const { skeleton, clip } = new BVHLoader().parse(text);
  const top = skeleton.bones[0];
  const mixer = new AnimationMixer(top);
  mixer.clipAction(clip).play();
  return player(top, mixer, clip.duration);
}

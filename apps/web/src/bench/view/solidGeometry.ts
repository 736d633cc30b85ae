import type { Solid } from "@kneader/demo";
import {
  BoxGeometry,
  BufferGeometry,
  Color,
  Float32BufferAttribute,
  LatheGeometry,
  Quaternion,
  SphereGeometry,
  TorusGeometry,
  Vector2,
  Vector3,
} from "three";

const ROUND = 10;
const up = new Vector3(0, 1, 0);

/** A limb with rounded ends along +Y, from radius r0 at 0 to r1 at `length`. */
function limbGeometry(length: number, r0: number, r1: number): BufferGeometry {
  const profile: Vector2[] = [];
  for (let i = 0; i <= 3; i++) {
    const angle = -Math.PI / 2 + (i / 3) * (Math.PI / 2);
    profile.push(new Vector2(Math.max(1e-4, Math.cos(angle) * r0), Math.sin(angle) * r0));
  }
  for (let i = 0; i <= 3; i++) {
    const angle = (i / 3) * (Math.PI / 2);
    profile.push(new Vector2(Math.max(1e-4, Math.cos(angle) * r1), length + Math.sin(angle) * r1));
  }
  return new LatheGeometry(profile, ROUND);
}

function coneGeometry(length: number, r0: number, r1: number): BufferGeometry {
  return new LatheGeometry([new Vector2(1e-4, 0), new Vector2(r0, 0), new Vector2(r1, length), new Vector2(1e-4, length)], ROUND);
}

/** One solid as geometry in its control's frame. */
function solidGeometry(solid: Solid): BufferGeometry {
  const a = new Vector3(...solid.a);
  if (solid.shape === "ball") {
    const [x, y, z] = solid.size;
    const fine = Math.max(x, y, z) > 0.06 ? 12 : Math.max(x, y, z) > 0.03 ? 9 : 6;
    return new SphereGeometry(1, fine, Math.max(4, Math.round(fine * 0.7))).scale(x, y, z).translate(a.x, a.y, a.z);
  }
  if (solid.shape === "box") return new BoxGeometry(solid.size[0] * 2, solid.size[1] * 2, solid.size[2] * 2).translate(a.x, a.y, a.z);
  if (solid.shape === "ring") return new TorusGeometry(solid.size[0], solid.size[1], 5, 14).rotateX(Math.PI / 2).translate(a.x, a.y, a.z);
  const b = new Vector3(...(solid.b ?? solid.a));
  const along = b.clone().sub(a);
  const length = along.length();
  const geometry =
    solid.shape === "cone" ? coneGeometry(length, solid.size[0], solid.size[1]) : limbGeometry(length, solid.size[0], solid.size[1]);
  geometry.applyQuaternion(new Quaternion().setFromUnitVectors(up, along.normalize()));
  return geometry.translate(a.x, a.y, a.z);
}

/** Several solids of one control as one geometry with a colour a vertex. */
export function joinSolids(solids: readonly Solid[]): BufferGeometry {
  const position: number[] = [];
  const normal: number[] = [];
  const colour: number[] = [];
  const index: number[] = [];
  for (const solid of solids) {
    const geometry = solidGeometry(solid);
    const offset = position.length / 3;
    const points = geometry.getAttribute("position");
    position.push(...points.array);
    normal.push(...geometry.getAttribute("normal").array);
    const { r, g, b } = new Color(solid.colour);
    for (let i = 0; i < points.count; i++) colour.push(r, g, b);
    for (const i of geometry.getIndex()?.array ?? []) index.push(offset + i);
    geometry.dispose();
  }
  const joined = new BufferGeometry();
  joined.setAttribute("position", new Float32BufferAttribute(position, 3));
  joined.setAttribute("normal", new Float32BufferAttribute(normal, 3));
  joined.setAttribute("color", new Float32BufferAttribute(colour, 3));
  joined.setIndex(index);
  return joined;
}

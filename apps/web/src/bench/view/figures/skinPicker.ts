import { Box3, type BufferGeometry, type Intersection, Matrix4, type Mesh, Ray, type Raycaster, type SkinnedMesh, Vector3 } from "three";

/** What is hit besides what three says: the control that moves the spot most. */
export interface ControlHit extends Intersection {
  readonly control: string;
}

/** How far vertices that others move too may stand out of the box of their strongest joint, as a part of its size. */
const ROOM = 0.25;

/** Triangles of one control, and the box they fill in its own space where the skin was bound. */
interface Owned {
  readonly owner: number;
  readonly triangles: number[];
  /** Middle and radius of each triangle there, four numbers each. */
  readonly balls: number[];
  readonly box: Box3;
  /** The same without room for vertices that others move too. */
  readonly tight: Box3;
  /** By how much a triangle may be off where its joint alone would put it. */
  room: number;
}

/**
 * Finds what control a ray hits on a skin. Triangles belong to the joint that moves their vertices most; only those
 * whose box the ray comes through are looked at where they now are, so that large meshes cost little.
 */
export class SkinPicker {
  /** By triangle, the number of the control it belongs to among `controls`; −1: none. */
  readonly owners: Int16Array;
  private readonly geometry: BufferGeometry;
  private readonly controls: readonly (string | null)[];
  private owned: Owned[] | null = null;

  /** `controls` by joint of the skin; of a mesh without a skin the one it hangs on. */
  constructor(geometry: BufferGeometry, controls: readonly (string | null)[]) {
    this.geometry = geometry;
    this.controls = controls;
    this.owners = ownersOf(geometry);
  }

  /** The control that a triangle belongs to. */
  controlOf(triangle: number): string | null {
    return this.controls[this.owners[triangle]] ?? null;
  }

  /** The controls that any triangle belongs to. */
  drawn(): string[] {
    return [...new Set(this.owners)].flatMap((owner) => this.controls[owner] ?? []);
  }

  /** Widen a box by where the triangles now are, each taken along by its own joint: of all, or of some controls. */
  measure(mesh: Mesh, box: Box3, only?: ReadonlySet<string>): void {
    this.owned ??= this.ownedIn(mesh);
    const skeleton = (mesh as SkinnedMesh).skeleton;
    const placed = new Box3();
    for (const { owner, tight } of this.owned) {
      const control = this.controls[owner];
      if (only && (!control || !only.has(control))) continue;
      box.union(placed.copy(tight).applyMatrix4(skeleton ? skeleton.bones[owner].matrixWorld : mesh.matrixWorld));
    }
  }

  raycast(mesh: Mesh, raycaster: Raycaster, hits: Intersection[]): void {
    this.owned ??= this.ownedIn(mesh);
    const skeleton = (mesh as SkinnedMesh).skeleton;
    const ray = new Ray();
    const inverse = new Matrix4();
    const entry = new Vector3();
    const met: { owned: Owned; control: string; ray: Ray; away: number }[] = [];
    for (const owned of this.owned) {
      const control = this.controls[owned.owner];
      if (!control) continue;
      const matrix = skeleton ? skeleton.bones[owned.owner].matrixWorld : mesh.matrixWorld;
      ray.copy(raycaster.ray).applyMatrix4(inverse.copy(matrix).invert());
      if (!ray.intersectBox(owned.box, entry)) continue;
      const away = owned.box.containsPoint(ray.origin) ? 0 : entry.applyMatrix4(matrix).distanceTo(raycaster.ray.origin);
      met.push({ owned, control, ray: ray.clone(), away });
    }
    met.sort((one, other) => one.away - other.away);
    let best: ControlHit | null = null;
    for (const { owned, control, ray: own, away } of met) {
      // What begins behind the nearest hit cannot be nearer.
      if (best !== null && away > best.distance) break;
      best = this.nearest(mesh, raycaster, owned, own, control, best);
    }
    if (best) hits.push(best);
  }

  /** The nearest hit on the triangles of one control, or what was nearer. Only those the ray comes near are placed. */
  private nearest(mesh: Mesh, raycaster: Raycaster, owned: Owned, own: Ray, control: string, before: ControlHit | null): ControlHit | null {
    const { triangles, balls, room } = owned;
    const corners = [new Vector3(), new Vector3(), new Vector3()];
    const [middle, point] = [new Vector3(), new Vector3()];
    let best = before;
    triangles.forEach((t, n) => {
      middle.fromArray(balls, n * 4);
      if (own.distanceSqToPoint(middle) > (balls[n * 4 + 3] + room) ** 2) return;
      for (let k = 0; k < 3; k++) {
        mesh.getVertexPosition(vertexOf(this.geometry, t * 3 + k), corners[k]);
        corners[k].applyMatrix4(mesh.matrixWorld);
      }
      if (!raycaster.ray.intersectTriangle(corners[0], corners[1], corners[2], false, point)) return;
      const distance = point.distanceTo(raycaster.ray.origin);
      if (best === null || distance < best.distance) best = { distance, point: point.clone(), object: mesh, control };
    });
    return best;
  }

  private ownedIn(mesh: Mesh): Owned[] {
    const { skeleton, bindMatrix } = mesh as SkinnedMesh;
    const position = this.geometry.getAttribute("position");
    const lists = new Map<number, Owned>();
    const place = new Vector3();
    const own = new Box3();
    const into = new Matrix4();
    this.owners.forEach((owner, t) => {
      if (owner < 0) return;
      let list = lists.get(owner);
      if (!list) {
        list = { owner, triangles: [], balls: [], box: new Box3(), tight: new Box3(), room: 0 };
        lists.set(owner, list);
      }
      list.triangles.push(t);
      if (skeleton) into.multiplyMatrices(skeleton.boneInverses[owner], bindMatrix);
      own.makeEmpty();
      for (let k = 0; k < 3; k++) {
        place.fromBufferAttribute(position, vertexOf(this.geometry, t * 3 + k));
        own.expandByPoint(skeleton ? place.applyMatrix4(into) : place);
      }
      list.box.union(own);
      list.balls.push(...own.getCenter(place).toArray(), own.getSize(place).length() / 2);
    });
    for (const list of lists.values()) {
      list.room = ROOM * list.box.getSize(place).length();
      list.tight.copy(list.box);
      list.box.expandByScalar(list.room);
    }
    return [...lists.values()];
  }
}

function vertexOf(geometry: BufferGeometry, corner: number): number {
  return geometry.index ? geometry.index.getX(corner) : corner;
}

/** The strongest joint of each triangle: the one that moves its three vertices most, taken together. */
function ownersOf(geometry: BufferGeometry): Int16Array {
  const joints = geometry.getAttribute("skinIndex");
  const weights = geometry.getAttribute("skinWeight");
  const corners = geometry.index?.count ?? geometry.getAttribute("position").count;
  const owners = new Int16Array(Math.floor(corners / 3));
  if (!joints || !weights) return owners;
  const sums = new Map<number, number>();
  for (let t = 0; t < owners.length; t++) {
    sums.clear();
    for (let k = 0; k < 3; k++) {
      const vertex = vertexOf(geometry, t * 3 + k);
      for (let n = 0; n < 4; n++) {
        const joint = joints.getComponent(vertex, n);
        sums.set(joint, (sums.get(joint) ?? 0) + weights.getComponent(vertex, n));
      }
    }
    let most = -1;
    for (const [joint, sum] of sums)
      if (sum > most) {
        most = sum;
        owners[t] = joint;
      }
  }
  return owners;
}

import { emptyShot, findPartners, makeControl, makePlayer, type Shot } from "@kneader/core";
import { curveFrom } from "../../../packages/core/src/curve/make.ts";
import { demoShots } from "@kneader/demo";
import { BoxGeometry, Group, type Mesh, MeshBasicMaterial, Mesh as ThreeMesh, PerspectiveCamera, Vector3 } from "three";
import { Chance } from "../../../packages/core/test/help/chance.ts";
import { randomShot } from "../../../packages/core/test/help/randomRig.ts";
import { placeCamera } from "../src/bench/view/cameras.ts";
import { buildFigure } from "../src/bench/view/figures/buildFigure.ts";
import { figureOf } from "../src/bench/view/figures/drawnFigure.ts";
import type { FigureModel } from "../src/bench/view/figures/figureModel.ts";
import { SkinPicker } from "../src/bench/view/figures/skinPicker.ts";
import { framingOf } from "../src/bench/view/framing.ts";
import { inShown, setZoom, showZoom, WHOLE, zoomedAt, zoomTo } from "../src/bench/view/pictureZoom.ts";

/*
 * One's own character is seen in every view, whatever its size, shape and way: all that is drawn of it lies in the picture over the
 * whole shot, fills a good part of it, and is neither too near nor too far.
 */

/** A shot of controls in a row, so many times as large, that goes a way. */
function shotOf(size: number, way: readonly [number, number, number], turned: number): Shot {
  const controls = findPartners(
    [
      ["root", null, [0, 0, 0]],
      ["hips", "root", [0, 1, 0]],
      ["arm left", "hips", [0.5, 0.4, 0]],
      ["arm right", "hips", [-0.5, 0.4, 0]],
      ["tail", "hips", [0, 0, -1.5]],
    ].map(([name, parent, rest]) =>
      makeControl(String(name), {
        name: String(name),
        parent: parent as string | null,
        rest: (rest as number[]).map((v) => v * size) as [number, number, number],
      }),
    ),
  );
  const base = Object.fromEntries(
    ["moveX", "moveY", "moveZ"].map((channel, k) => [
      `root.${channel}`,
      curveFrom([
        [1001, 0],
        [1040, way[k] * size],
      ]),
    ]),
  );
  return emptyShot({
    id: `shot ${size} ${turned}`,
    name: "Any",
    rig: { id: "r", name: "R", figure: null, controls },
    range: { start: 1001, end: 1040 },
    unitMetres: 1,
    base: { ...base, "root.rotateY": curveFrom([[1001, turned]]) },
  });
}

/** One block on one control, which stands at its foot. */
function block(shot: Shot, size: readonly [number, number, number]): FigureModel {
  const geometry = new BoxGeometry(...size).translate(0, size[1] / 2, 0);
  const mesh: Mesh = new ThreeMesh(geometry, new MeshBasicMaterial());
  const group = new Group();
  group.add(mesh);
  const [first] = shot.rig.controls;
  const drawn = {
    group,
    meshes: [{ mesh, lit: mesh.material, picker: new SkinPicker(geometry, [first.id]), prop: null }],
    follow: (player: ReturnType<typeof makePlayer>) => {
      mesh.matrixAutoUpdate = false;
      mesh.matrixWorldAutoUpdate = false;
      mesh.matrixWorld.fromArray(player.worlds, 0);
    },
    copy: () => drawn,
    dispose: () => undefined,
  };
  return figureOf(drawn);
}

/** How the figure lies in the picture: the corners of all that is drawn, over the whole shot. */
function seen(shot: Shot, figure: FigureModel, view: "front" | "side" | "shot" | "free", aspect: number) {
  const camera = new PerspectiveCamera(30, aspect, 0.01, 4000);
  framingOf(shot, figure);
  placeCamera(camera, view, shot, makePlayer(shot));
  camera.updateMatrixWorld();
  const { box } = framingOf(shot);
  const most = { x: 0, y: 0, near: Number.POSITIVE_INFINITY, far: 0 };
  for (let n = 0; n < 8; n++) {
    const corner = new Vector3(n & 1 ? box.max.x : box.min.x, n & 2 ? box.max.y : box.min.y, n & 4 ? box.max.z : box.min.z);
    const depth = -corner.clone().applyMatrix4(camera.matrixWorldInverse).z;
    most.near = Math.min(most.near, depth);
    most.far = Math.max(most.far, depth);
    corner.project(camera);
    most.x = Math.max(most.x, Math.abs(corner.x));
    most.y = Math.max(most.y, Math.abs(corner.y));
  }
  return { ...most, camera };
}

const views = ["front", "side", "shot", "free"] as const;

function expectSeen(shot: Shot, figure: FigureModel): void {
  for (const view of views)
    for (const aspect of [0.7, 1.5, 2.4]) {
      const { x, y, near, far, camera } = seen(shot, figure, view, aspect);
      expect(Math.max(x, y)).toBeLessThan(1);
      expect(Math.max(x, y)).toBeGreaterThan(0.6);
      expect(near).toBeGreaterThan(camera.near);
      expect(far).toBeLessThan(camera.far);
    }
}

test("a figure of any size, shape and way is whole in every view, and fills it", () => {
  for (const size of [0.004, 1, 100, 7272])
    for (const way of [
      [0, 0, 0],
      [5, 0, 0],
      [0, 0, -30],
      [0, 8, 3],
    ] as const) {
      const shot = shotOf(size, way, 25);
      expectSeen(shot, buildFigure(shot, null));
    }
});

test("what is drawn is framed, not where controls stand: one node and one mesh, long ones, flat ones", () => {
  for (const box of [
    [7272, 3000, 900],
    [1, 1, 40],
    [30, 0.2, 0.2],
    [0.002, 0.1, 0.002],
  ] as const) {
    const shot = shotOf(1e-6, [0, 0, 0], 0);
    const one = { ...shot, rig: { ...shot.rig, controls: shot.rig.controls.slice(0, 1) } };
    const figure = block(one, box);
    expectSeen(one, figure);
    const { box: framed } = framingOf(one, figure);
    expect(framed.max.y).toBeCloseTo(box[1], 3);
  }
});

test("rigs by chance are whole in every view", () => {
  for (let seed = 1; seed <= 12; seed++) {
    const shot = randomShot(new Chance(seed));
    expectSeen({ ...shot, id: `random ${seed}` }, buildFigure(shot, null));
  }
});

test("front is where the figure faces, whichever way it was turned", () => {
  for (const turned of [0, 90, 180, -90, 45]) {
    const shot = shotOf(1, [0, 0, 0], turned);
    const { camera } = seen(shot, buildFigure(shot, null), "front", 1.5);
    const to = camera.position.clone().sub(new Vector3(...framingOf(shot).centre));
    const facing = (Math.atan2(to.x, to.z) * 180) / Math.PI;
    expect(Math.cos(((facing - turned) * Math.PI) / 180)).toBeCloseTo(1, 6);
  }
  for (const { make } of demoShots) {
    const shot = make();
    if (shot instanceof Promise) continue;
    expect(framingOf(shot).facing[0]).toBeCloseTo(1, 6);
  }
});

describe("a picture whose camera stands still", () => {
  const shot = shotOf(1, [0, 0, 0], 0);
  const figure = buildFigure(shot, null);

  test("is zoomed at the pointer: what lies under it stays there, and back again it is the whole picture", () => {
    const { camera } = seen(shot, figure, "front", 1.6);
    const spot = { x: 0.3, y: -0.4 };
    const through = (zoom: typeof WHOLE) => {
      showZoom(camera, zoom);
      camera.updateProjectionMatrix();
      return new Vector3(spot.x, spot.y, 0.5).unproject(camera).sub(camera.position).normalize();
    };
    const before = through(WHOLE);
    let zoom = WHOLE;
    for (const factor of [1.4, 2, 0.8]) {
      zoom = zoomedAt(zoom, factor, spot);
      expect(through(zoom).distanceTo(before)).toBeLessThan(1e-9);
    }
    expect(zoom.times).toBeCloseTo(2.24, 9);
    setZoom(shot.id, "front", zoomedAt(zoom, 1 / 2.24, spot));
    showZoom(camera, WHOLE);
    expect(camera.view?.enabled).toBe(false);
  });

  test("is framed on a part, which then fills it; flat places follow", () => {
    const { camera } = seen(shot, figure, "side", 1.6);
    const { box } = framingOf(shot);
    const part = box.clone();
    part.max.y = part.min.y + (box.max.y - box.min.y) * 0.2;
    part.max.z = part.min.z + (box.max.z - box.min.z) * 0.2;
    const zoom = zoomTo(part, camera);
    showZoom(camera, zoom);
    camera.updateProjectionMatrix();
    const corners = [part.min, part.max].map((corner) => corner.clone().project(camera));
    expect(Math.max(...corners.flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)]))).toBeGreaterThan(0.6);
    expect(Math.max(...corners.flatMap(({ x, y }) => [Math.abs(x), Math.abs(y)]))).toBeLessThan(1);
    // A place of the whole picture is where the camera shows it.
    const world = part.getCenter(new Vector3());
    const shown = world.clone().project(camera);
    showZoom(camera, WHOLE);
    camera.updateProjectionMatrix();
    const whole = world.clone().project(camera);
    showZoom(camera, zoom);
    const { x, y } = inShown(camera, whole.x, whole.y);
    expect([x, y].map((v) => v.toFixed(9))).toEqual([shown.x, shown.y].map((v) => v.toFixed(9)));
  });
});

import {
  BufferGeometry,
  Float32BufferAttribute,
  Group,
  LineBasicMaterial,
  LineSegments,
  Mesh,
  MeshBasicMaterial,
  PlaneGeometry,
} from "three";
import type { Framing } from "./framing.ts";

/** A plain room to judge movement against: floor grid, back wall and side wall, sized to the figure. */
export function buildRoom({ centre, radius, floor }: Framing, dusk: boolean): Group {
  const room = new Group();
  const size = radius * 6;
  const [x, , z] = centre;
  const wall = dusk ? "#2c2a35" : "#efe6d6";
  const ground = dusk ? "#26242e" : "#e6dac5";
  const lines = dusk ? "#45404f" : "#d2c5ae";
  const plane = (colour: string) => new Mesh(new PlaneGeometry(size * 2, size * 2), new MeshBasicMaterial({ color: colour }));
  const bottom = plane(ground);
  bottom.rotation.x = -Math.PI / 2;
  bottom.position.set(x, floor - radius * 0.002, z);
  const back = plane(wall);
  back.position.set(x, floor + size, z - size);
  const side = plane(wall);
  side.rotation.y = Math.PI / 2;
  side.position.set(x - size, floor + size, z);
  room.add(bottom, back, side);
  const points: number[] = [];
  const steps = 24;
  for (let i = -steps; i <= steps; i++) {
    const at = (i / steps) * size;
    points.push(x + at, floor, z - size, x + at, floor, z + size, x - size, floor, z + at, x + size, floor, z + at);
    if (i >= 0) points.push(x - size, floor + at * 2, z - size * 0.999, x + size, floor + at * 2, z - size * 0.999);
    points.push(x + at, floor, z - size * 0.999, x + at, floor + size * 2, z - size * 0.999);
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute("position", new Float32BufferAttribute(points, 3));
  room.add(new LineSegments(geometry, new LineBasicMaterial({ color: lines })));
  return room;
}

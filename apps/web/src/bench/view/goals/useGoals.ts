import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo, useRef } from "react";
import { BufferGeometry, type Camera, Group, type Object3D, Points, Vector3 } from "three";
import { clock } from "../../clock.ts";
import { useDocuments } from "../../documents.ts";
import { dot, put } from "../arcs/arcDrawing.ts";
import { useHovered } from "../hovered.ts";
import { playerFor } from "../players.ts";
import { type Goal, goalsOf } from "./goalsOf.ts";

const EDGE = "#fffbf4";
const INK = "#b97a14";
const PICKED = "#8a2e5c";
/** A mark is taken hold of from this near (pixels). */
const NEAR = 11;

/** One kind of mark, pale-edged, over everything: those not picked and those picked. */
class GoalDrawing {
  readonly group = new Group();
  private readonly all = new BufferGeometry();
  private readonly picked = new BufferGeometry();

  constructor(shape: "soft square" | "diamond") {
    const drawn = [
      [this.all, dot(EDGE, 17, shape)],
      [this.all, dot(INK, 13, shape)],
      [this.picked, dot(PICKED, 13, shape)],
    ] as const;
    drawn.forEach(([geometry, material], i) => {
      const points = new Points(geometry, material);
      points.raycast = () => undefined;
      points.renderOrder = 9 + i;
      points.frustumCulled = false;
      this.group.add(points);
    });
  }

  update(goals: readonly Goal[], picked: ReadonlySet<string>, placeOf: (control: string) => Vector3): void {
    put(
      this.all,
      goals.flatMap(({ control }) => placeOf(control).toArray()),
    );
    put(
      this.picked,
      goals.flatMap(({ control }) => (picked.has(control) ? placeOf(control).toArray() : [])),
    );
  }

  dispose(): void {
    this.all.dispose();
    this.picked.dispose();
  }
}

/** A press on the mark of a goal. */
export type TakeGoal = (control: string, place: Vector3, start: PointerEvent) => void;

/** Marks of what ties go after and nothing is drawn of: pointed at, picked and taken hold of like a part of the figure. */
export function useGoals(
  shot: Shot,
  picked: readonly string[],
  isDrawn: ((control: string) => boolean) | null,
  take: TakeGoal,
): { readonly objects: readonly Object3D[]; isOn(event: PointerEvent): boolean } {
  const { camera, gl, invalidate } = useThree();
  const live = useDocuments((state) => state.live);
  const { rig, constraints } = shot;
  const goals = useMemo(() => (isDrawn ? goalsOf({ rig, constraints }, isDrawn) : []), [rig, constraints, isDrawn]);
  const isAny = goals.length > 0;
  const drawings = useMemo(() => (isAny ? [new GoalDrawing("soft square"), new GoalDrawing("diamond")] : []), [isAny]);
  useEffect(
    () => () => {
      for (const drawing of drawings) drawing.dispose();
    },
    [drawings],
  );
  const latest = useRef({ goals, take, placeOf: (_: string) => new Vector3() });
  latest.current.goals = goals;
  latest.current.take = take;
  useEffect(() => {
    if (!isAny) return;
    const player = live?.player ?? playerFor(shot);
    const placeOf = (control: string) => new Vector3().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16 + 12);
    latest.current.placeOf = (control) => {
      player.pose(clock.frame);
      return placeOf(control);
    };
    const draw = () => {
      player.pose(clock.frame);
      const ids = new Set(picked);
      drawings.forEach((drawing, i) => {
        drawing.update(
          goals.filter(({ isBend }) => isBend === (i === 1)),
          ids,
          placeOf,
        );
      });
      invalidate();
    };
    draw();
    return clock.subscribe(draw);
  }, [shot, live, goals, drawings, picked, isAny, invalidate]);

  useEffect(() => {
    if (!isAny) return;
    const canvas = gl.domElement;
    const found = (event: PointerEvent) => goalAt(latest.current.goals, latest.current.placeOf, camera, canvas, event);
    const move = (event: PointerEvent) => {
      const goal = event.buttons === 0 ? found(event) : null;
      if (!goal) return;
      useHovered.setState({ control: goal.control, at: { x: event.offsetX, y: event.offsetY }, mark: null });
      canvas.style.cursor = "grab";
      // The figure and the arcs behind it are not meant.
      event.stopImmediatePropagation();
    };
    const down = (event: PointerEvent) => {
      const goal = event.button === 0 ? found(event) : null;
      if (!goal) return;
      event.stopImmediatePropagation();
      latest.current.take(goal.control, latest.current.placeOf(goal.control), event);
    };
    canvas.addEventListener("pointermove", move, true);
    canvas.addEventListener("pointerdown", down, true);
    return () => {
      canvas.removeEventListener("pointermove", move, true);
      canvas.removeEventListener("pointerdown", down, true);
    };
  }, [isAny, camera, gl]);
  return {
    objects: drawings.map(({ group }) => group),
    isOn: (event) => isAny && goalAt(latest.current.goals, latest.current.placeOf, camera, gl.domElement, event) !== null,
  };
}

function goalAt(
  goals: readonly Goal[],
  placeOf: (control: string) => Vector3,
  camera: Camera,
  canvas: HTMLElement,
  event: PointerEvent,
): Goal | null {
  const box = canvas.getBoundingClientRect();
  let best: Goal | null = null;
  let least = NEAR;
  for (const goal of goals) {
    const at = placeOf(goal.control).project(camera);
    if (!(at.z <= 1)) continue;
    const x = ((at.x + 1) / 2) * box.width - (event.clientX - box.left);
    const y = ((1 - at.y) / 2) * box.height - (event.clientY - box.top);
    const away = Math.hypot(x, y);
    if (away < least) [best, least] = [goal, away];
  }
  return best;
}

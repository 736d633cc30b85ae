import type { Shot } from "@kneader/core";
import { Canvas, type ThreeEvent, useThree } from "@react-three/fiber";
import { memo, useEffect, useMemo, useRef } from "react";
import { Group, type PerspectiveCamera } from "three";
import { OrbitControls } from "three/examples/jsm/controls/OrbitControls.js";
import { palettes, type ThemeName } from "../../app/theme.ts";
import { clock } from "../clock.ts";
import { useDocuments } from "../documents.ts";
import { buildArc } from "./arc.ts";
import { isLong } from "../useSettled.ts";
import { type CameraName, placeCamera } from "./cameras.ts";
import { disposeOf } from "./disposeOf.ts";
import { buildFigure } from "./figureModel.ts";
import { framingOf } from "./framing.ts";
import { buildLanding } from "./landing.ts";
import { useHovered } from "./hovered.ts";
import { playerFor } from "./players.ts";
import { pullFigure } from "./pullFigure.ts";
import { buildRoom } from "./room.ts";

export interface StageProps {
  shot: Shot;
  theme: ThemeName;
  camera: CameraName;
  /** A plain room instead of the shot's set. */
  plain: boolean;
  /** Frames of the poses shown pale beside the present one. */
  ghosts: readonly number[];
  /** Another shot of the same rig, drawn pale over it at the same frame. */
  over?: Shot | null;
  picked: readonly string[];
  /** Control whose path is drawn, and the frames at which it has keys. */
  arc: { control: string; keys: readonly number[] } | null;
  onPick(control: string | null, add: boolean): void;
  /** Can parts of the figure be dragged? */
  pulls?: boolean;
}

/** The figure in its set, drawn when something changes and not otherwise. */
export const Stage = memo(function Stage(props: StageProps) {
  // Under test edges stay rough: the scene is drawn in software there.
  const rough = navigator.webdriver;
  return (
    <Canvas
      frameloop="demand"
      dpr={rough ? 1 : [1, 2]}
      gl={{ stencil: true, antialias: !rough, powerPreference: "low-power", preserveDrawingBuffer: rough }}
      flat
      onPointerMissed={() => props.onPick(null, false)}
      aria-hidden
    >
      <Contents {...props} />
    </Canvas>
  );
});

function Contents({ shot: given, theme, camera: cameraName, plain, ghosts, over = null, picked, arc, onPick, pulls = false }: StageProps) {
  const { invalidate, camera, gl, size } = useThree();
  // The preview is taken from the store here, so that a drag draws the figure anew and not the whole view around it.
  const shot = useDocuments((state) => state.preview) ?? given;
  const live = useDocuments((state) => state.live);
  const { rig } = shot;
  const set = plain ? null : shot.set;
  const figure = useMemo(() => buildFigure(rig), [rig]);
  const pale = useMemo(() => [0, 1].map(() => buildFigure(rig, theme === "dusk" ? "#cfd8ff" : "#ffffff")), [rig, theme]);
  const landing = useMemo(() => (set === "landing" ? buildLanding() : null), [set]);
  const framing = framingOf(shot);
  // The free camera starts from the shot as it is then; later edits must not pull it back.
  const latest = useRef(shot);
  const orbit = useRef<OrbitControls | null>(null);
  latest.current = shot;
  const room = useMemo(() => (set === "landing" ? null : buildRoom(framing, theme === "dusk")), [set, framing, theme]);
  const palette = palettes[theme];
  // The path of a long shot follows a drag only once it is let go.
  const arcShot = isLong(shot) ? given : shot;
  const arcGroup = useMemo(
    () => (arc ? buildArc(arcShot, arc.control, arc.keys, "#fff6e6", palettes.light.plum) : new Group()),
    [arc, arcShot],
  );

  useEffect(() => () => figure.dispose(), [figure]);
  useEffect(() => () => disposeOf(arcGroup), [arcGroup]);
  useEffect(() => () => void (room && disposeOf(room)), [room]);
  useEffect(
    () => () => {
      if (!landing) return;
      disposeOf(landing.still);
      disposeOf(landing.ferry);
    },
    [landing],
  );
  useEffect(
    () => () => {
      for (const ghost of pale) ghost.dispose();
    },
    [pale],
  );

  useEffect(() => {
    figure.pick(new Set(picked));
    invalidate();
  }, [figure, picked, invalidate]);

  useEffect(() => {
    const player = playerFor(shot);
    pale.forEach((ghost, i) => {
      ghost.group.visible = ghosts[i] !== undefined;
      if (ghosts[i] === undefined) return;
      player.pose(ghosts[i]);
      ghost.follow(player);
    });
    invalidate();
  }, [shot, pale, ghosts, invalidate]);

  useEffect(() => {
    const player = live?.player ?? playerFor(shot);
    const ferry = player.controlIndex.get("ferry");
    const draw = () => {
      if (size.width === 0) return;
      player.pose(clock.frame);
      figure.follow(player);
      if (over) {
        const other = playerFor(over);
        other.pose(clock.frame);
        pale[0].follow(other);
        pale[0].group.visible = true;
      }
      if (landing && ferry !== undefined) {
        landing.ferry.matrixAutoUpdate = false;
        landing.ferry.matrix.fromArray(player.worlds, ferry * 16);
        landing.ferry.matrixWorldNeedsUpdate = true;
      }
      if (cameraName !== "free") placeCamera(camera as PerspectiveCamera, cameraName, shot, player);
      invalidate();
    };
    draw();
    return clock.subscribe(draw);
  }, [shot, live, over, pale, figure, landing, camera, cameraName, invalidate, size]);

  useEffect(() => {
    if (cameraName !== "free") return;
    const controls = new OrbitControls(camera, gl.domElement);
    orbit.current = controls;
    const start = latest.current;
    placeCamera(camera as PerspectiveCamera, "free", start, playerFor(start));
    controls.target.set(...framing.centre);
    controls.update();
    const redraw = () => invalidate();
    controls.addEventListener("change", redraw);
    return () => {
      controls.removeEventListener("change", redraw);
      controls.dispose();
      orbit.current = null;
    };
  }, [cameraName, camera, gl, framing, invalidate]);

  const pick = (event: ThreeEvent<PointerEvent>) => {
    event.stopPropagation();
    const control = event.object.userData.control as string | undefined;
    if (!control || event.nativeEvent.button !== 0) return;
    onPick(control, event.nativeEvent.shiftKey);
    if (!pulls) return;
    // The free camera must not turn while the figure is pulled.
    const turning = orbit.current;
    if (turning) turning.enabled = false;
    const ended = () => {
      if (turning) turning.enabled = true;
    };
    const { point, object, nativeEvent } = event;
    pullFigure({ control, point, part: object.matrixWorld, camera, canvas: gl.domElement, start: nativeEvent, ended });
  };
  const hover = (control: string | null) => {
    gl.domElement.style.cursor = control === null ? "" : pulls ? "grab" : "pointer";
    useHovered.setState({ control });
  };

  return (
    <>
      <color attach="background" args={[set === "landing" ? "#f6bd88" : palette.well]} />
      <ambientLight intensity={1.5} color={set === "landing" ? "#cfc3e6" : "#ffffff"} />
      <directionalLight intensity={2.1} position={[4, 5, 5]} color={set === "landing" ? "#ffdcb0" : "#fff6ea"} />
      <directionalLight intensity={0.8} position={[-5, 2, -4]} color="#9fb4ff" />
      {landing && <primitive object={landing.still} />}
      {landing && <primitive object={landing.ferry} />}
      {room && <primitive object={room} />}
      {pale.map((ghost) => (
        <primitive key={ghost.group.uuid} object={ghost.group} />
      ))}
      <primitive
        object={figure.group}
        onPointerDown={pick}
        onPointerOver={(event: ThreeEvent<PointerEvent>) => {
          event.stopPropagation();
          hover(event.object.userData.control ?? null);
        }}
        onPointerOut={() => hover(null)}
      />
      <primitive object={arcGroup} />
    </>
  );
}

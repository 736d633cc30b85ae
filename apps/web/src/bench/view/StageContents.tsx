import { type ThreeEvent, useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import { palettes } from "../../app/theme.ts";
import { useDocuments } from "../documents.ts";
import type { ControlHit } from "./figures/skinPicker.ts";
import { pictureBegun, pictureShown } from "./firstPicture.ts";
import { useHovered } from "./hovered.ts";
import type { StageProps } from "./stageProps.ts";
import { startTieDrag } from "../rack/ties/tieDrag.ts";
import { pullTool } from "./tools/pullTool.ts";
import { useFlightTool } from "./flight/useFlightTool.ts";
import { letGoOfInks } from "./arcs/arcDrawing.ts";
import { useGoals } from "./goals/useGoals.ts";
import { useArcs } from "./arcs/useArcs.ts";
import { isPairAwaited } from "../record/handState.ts";
import { recordPair } from "../record/recordHand.ts";
import { useFreeCamera } from "./useFreeCamera.ts";
import { useScenery } from "./useScenery.ts";
import { usePictureGestures } from "./usePictureGestures.ts";
import { useDrawnFigure, useFigure } from "./useDrawnFigure.ts";

/** What stands on the stage: scenery, lights, the figure with its ghosts, and what the view tools draw. */
export function StageContents(props: StageProps) {
  const { shot: given, theme, camera: cameraName, plain, picked, onPick, pulls = false } = props;
  const { invalidate, camera, gl, scene } = useThree();
  // The preview is taken from the store here, so that a drag draws the figure anew and not the whole view around it.
  const shot = useDocuments((state) => state.preview) ?? given;
  const set = plain ? null : shot.set;
  const { figure, framing } = useFigure(shot);
  const { landing, room } = useScenery(set, framing, theme === "dusk");
  const { pale } = useDrawnFigure({ ...props, shot }, figure, landing);
  const turning = useFreeCamera(shot, cameraName, picked, figure);
  usePictureGestures(shot, cameraName, picked, figure);
  // The free camera must not turn while something is dragged.
  const held = () => {
    const controls = turning.current;
    if (controls) controls.enabled = false;
    return () => {
      if (controls) controls.enabled = true;
    };
  };
  const { objects: goals, isOn } = useGoals(shot, picked, figure?.isDrawn ?? null, (control, point, start) => {
    pickPressed(control, start, picked, onPick);
    if (!pulls || start.shiftKey) return;
    pullTool.drag({ object: scene, control, point, camera, canvas: gl.domElement, start, isPlace: true, ended: held() });
  });
  const { objects: arcs, isOnMark } = useArcs(shot, given, props.arcs, cameraName, pulls, figure?.group ?? null, isOn);
  const surfaces = useMemo(() => (landing ? [landing.still, landing.ferry] : room ? [room] : []), [landing, room]);
  const { objects: flights } = useFlightTool(surfaces, pulls);
  const tools = pulls ? [pullTool] : [];

  useEffect(() => {
    figure?.pick(new Set(picked));
    invalidate();
  }, [figure, picked, invalidate]);

  useEffect(() => letGoOfInks, []);

  useEffect(() => {
    let next = requestAnimationFrame(() => {
      pictureBegun();
      next = requestAnimationFrame(pictureShown);
    });
    return () => cancelAnimationFrame(next);
  }, []);

  useEffect(() => {
    if (!pulls) return;
    // While a pair of channels is recorded a press anywhere is for them, not for the figure or the camera.
    const down = (event: PointerEvent) => {
      if (event.button !== 0 || !isPairAwaited()) return;
      event.stopImmediatePropagation();
      recordPair(event);
    };
    const canvas = gl.domElement;
    canvas.addEventListener("pointerdown", down, true);
    return () => canvas.removeEventListener("pointerdown", down, true);
  }, [gl, pulls]);

  const press = (event: ThreeEvent<PointerEvent>) => {
    const { object, point, nativeEvent } = event;
    const control = controlOf(event);
    const tool = tools.find((one) => one.hit(object, control));
    if (control || tool) event.stopPropagation();
    if (nativeEvent.button !== 0) return;
    // A mark of an arc lies over the figure; a click is meant for it.
    if (control && !isOnMark()) pickPressed(control, nativeEvent, picked, onPick);
    if (!tool) return;
    const ended = held();
    // With Shift a part is dragged onto another one, and tied to it.
    if (nativeEvent.shiftKey && control !== null) startTieDrag(control, nativeEvent, ended);
    else tool.drag({ object, control, point, camera, canvas: gl.domElement, start: nativeEvent, ended });
  };
  const hover = (control: string | null, event?: PointerEvent) => {
    gl.domElement.style.cursor = control === null ? "" : pulls ? "grab" : "pointer";
    const at = control === null || !event || event.buttons !== 0 ? null : { x: event.offsetX, y: event.offsetY };
    useHovered.setState({ control, at });
  };

  return (
    <>
      <Lights set={set} well={palettes[theme].well} />
      {landing && <primitive object={landing.still} />}
      {landing && <primitive object={landing.ferry} />}
      {room && <primitive object={room} />}
      {pale.map((ghost) => (
        <primitive key={ghost.group.uuid} object={ghost.group} />
      ))}
      {figure && (
        <primitive
          object={figure.group}
          onPointerDown={press}
          onPointerMove={(event: ThreeEvent<PointerEvent>) => {
            event.stopPropagation();
            hover(controlOf(event), event.nativeEvent);
          }}
          onPointerOut={() => hover(null)}
        />
      )}
      {[...arcs, ...goals, ...(pulls ? flights : [])].map((object) => (
        <primitive key={object.uuid} object={object} />
      ))}
      {tools
        .flatMap(({ objects }) => objects)
        .map((object) => (
          <primitive key={object.uuid} object={object} onPointerDown={press} />
        ))}
    </>
  );
}

/** A press that goes no further than this (pixels) is a click. */
const SLACK = 4;

/** A press picks at once; on one of several picked parts only a click does, as they may be about to be dragged together. */
function pickPressed(
  control: string,
  { shiftKey, clientX, clientY }: PointerEvent,
  picked: readonly string[],
  onPick: StageProps["onPick"],
): void {
  if (shiftKey || picked.length < 2 || !picked.includes(control)) {
    onPick(control, shiftKey);
    return;
  }
  const up = (event: PointerEvent) => {
    if (Math.hypot(event.clientX - clientX, event.clientY - clientY) <= SLACK) onPick(control, false);
  };
  window.addEventListener("pointerup", up, { once: true });
}

/** The control whose part of the figure is under the pointer. */
const controlOf = (event: ThreeEvent<PointerEvent>): string | null =>
  (event as ThreeEvent<PointerEvent> & Partial<ControlHit>).control ?? null;

function Lights({ set, well }: { set: string | null; well: string }) {
  const isDusk = set === "landing";
  return (
    <>
      <color attach="background" args={[isDusk ? "#f6bd88" : well]} />
      <ambientLight intensity={1.5} color={isDusk ? "#cfc3e6" : "#ffffff"} />
      <directionalLight intensity={2.1} position={[4, 5, 5]} color={isDusk ? "#ffdcb0" : "#fff6ea"} />
      <directionalLight intensity={0.8} position={[-5, 2, -4]} color="#9fb4ff" />
    </>
  );
}

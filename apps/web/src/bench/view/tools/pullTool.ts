import {
  type Grip,
  liveResult,
  type LiveResult,
  makePlayer,
  operationById,
  operations,
  type Place,
  type PullBy,
  pullTo,
  sayError,
  WHOLE_FIGURE,
} from "@kneader/core";
import { Matrix4, Plane, Raycaster, Vector2, Vector3 } from "three";
import { usePreferences } from "../../../app/preferences.ts";
import { clock } from "../../clock.ts";
import { currentDocument, useDocuments } from "../../documents.ts";
import { tell } from "../../notices.ts";
import { followPointer } from "../../followPointer.ts";
import { pacedPreview } from "../../pacedPreview.ts";
import { performOrTell } from "../../perform.ts";
import { useSelection } from "../../selection.ts";
import { useWork } from "../../work/workStore.ts";
import type { Press, ViewTool } from "./viewTool.ts";

/** A press that goes no further than this (pixels) only picks. */
const SLACK = 4;

const otherWay: Record<PullBy, PullBy> = { turn: "reach", reach: "turn" };

/** Parts of the figure are taken hold of and pulled. */
export const pullTool: ViewTool = {
  objects: [],
  hit: (_object, control) => control !== null,
  drag: pullFigure,
  dispose: () => undefined,
};

/**
 * From a press on the figure: the pressed spot follows the pointer in the plane that faces the camera, and the
 * difference lands in the chosen layer. Within a chosen range a pass is nudged. With Alt it gives way the other way.
 */
function pullFigure({ control, point, camera, canvas, start, ended }: Press): void {
  const spot = new Vector3(point.x, point.y, point.z);
  const shot = currentDocument();
  const { open, current } = useDocuments.getState();
  if (!shot || control === null || (current !== null && open[current]?.readOnly)) return;
  const { operation } = useWork.getState();
  const { layer, range } = useSelection.getState();
  const { frame } = clock;
  const facing = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), spot);
  const ray = new Raycaster();
  const player = makePlayer(shot);
  player.pose(frame);
  const stands = new Matrix4().fromArray(player.worlds, (player.controlIndex.get(control) as number) * 16);
  const grip: Grip = { control, spot: placeOf(spot.clone().applyMatrix4(stands.invert())) };
  const preview = pacedPreview();
  const { setLive } = useDocuments.getState();
  const scope = { ...WHOLE_FIGURE, layer, range };
  /** The live figure for what gives way; Alt may change that in the middle of a drag. */
  const lives = new Map<string, LiveResult>();
  let last: { frame: number; values: Record<string, number>; pulled: string } | null = null;
  let problem: string | null = null;
  let pulling = false;
  const pull = (event: PointerEvent) => {
    const box = canvas.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * 2 - 1;
    const y = 1 - ((event.clientY - box.top) / box.height) * 2;
    ray.setFromCamera(new Vector2(x, y), camera);
    const goal = ray.ray.intersectPlane(facing, new Vector3());
    if (!goal) return;
    const { pullBy } = usePreferences.getState();
    try {
      const wanted = pullTo(player, frame, grip, event.altKey ? otherWay[pullBy] : pullBy, placeOf(goal));
      const settings = { frame, values: wanted, pulled: control };
      const keyed = () => operations.keyPulled.run(shot, scope, settings).shot;
      const name = Object.keys(wanted).join();
      // Before anything moves it is known whether keys there would be taken and seen; if not, this says why.
      if (!lives.has(name)) {
        keyed();
        lives.set(name, liveResult(shot, layer, frame, Object.keys(wanted)));
      }
      const live = lives.get(name) as LiveResult;
      setLive(live.aim(wanted) ? live.player : null);
      preview.show(keyed);
      last = settings;
    } catch (error) {
      problem = sayError(error);
    }
  };
  const stop = () => {
    setLive(null);
    preview.stop();
  };
  followPointer({
    move(event) {
      pulling ||= Math.hypot(event.clientX - start.clientX, event.clientY - start.clientY) > SLACK;
      // What is seen then is not the shot yet.
      if (!pulling || operation !== null) return;
      clock.stop();
      clock.set(frame);
      pull(event);
    },
    done() {
      ended();
      if (!pulling) return;
      if (operation !== null) {
        const { title } = operationById(operation);
        tell(`${title} is being tried. Apply or cancel it, then the figure can be pulled.`);
        return;
      }
      stop();
      if (last === null && problem !== null) tell(problem);
      if (last && currentDocument() === shot) performOrTell(operations.keyPulled, last, scope);
    },
    cancel() {
      ended();
      if (pulling && operation === null) stop();
    },
  });
}

const placeOf = ({ x, y, z }: Vector3): Place => [x, y, z];

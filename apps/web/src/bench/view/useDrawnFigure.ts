import type { Shot } from "@kneader/core";
import { useThree } from "@react-three/fiber";
import { useEffect, useMemo } from "react";
import type { PerspectiveCamera } from "three";
import { clock } from "../clock.ts";
import { useDocuments } from "../documents.ts";
import { placeCamera } from "./cameras.ts";
import { buildFigure } from "./figures/buildFigure.ts";
import type { FigureModel } from "./figures/figureModel.ts";
import { useLoadedAsset } from "./figures/useLoadedAsset.ts";
import { type Framing, framingOf } from "./framing.ts";
import { usePictureZoom } from "./pictureZoom.ts";
import type { LandingModel } from "./landing.ts";
import { playerFor } from "./players.ts";
import type { StageProps } from "./stageProps.ts";

/** The figure of a shot, once the file it came from is there, and the framing of it. */
export function useFigure(shot: Shot): { figure: FigureModel | null; framing: Framing } {
  const { rig, asset } = shot;
  const { loaded, isLoading } = useLoadedAsset(asset);
  const figure = useMemo(() => (isLoading ? null : buildFigure({ rig, asset }, loaded)), [rig, asset, loaded, isLoading]);
  return { figure, framing: framingOf(shot, figure) };
}

/** The figure, its ghosts, and whatever of the set moves with the shot: drawn at the playhead, and as it is while it is pulled. */
export function useDrawnFigure(
  { shot, theme, camera: cameraName, ghosts, over = null, look, ghostInk }: StageProps,
  figure: FigureModel | null,
  landing: LandingModel | null,
): { pale: readonly FigureModel[] } {
  const { invalidate, camera, size } = useThree();
  const live = useDocuments((state) => state.live);
  const count = over ? 1 : ghosts.length;
  const isDusk = theme === "dusk" || shot.set === "landing";
  const pale = useMemo(
    () => (figure ? Array.from({ length: count }, () => figure.ghost(isDusk ? "#dbe2ff" : "#8d7f6c", ghostInk)) : []),
    [figure, isDusk, ghostInk, count],
  );
  useEffect(() => {
    figure?.show(look, shot.set === null && theme === "dusk" ? "#f2ead9" : "#1d1916");
    invalidate();
  }, [figure, look, shot.set, theme, invalidate]);
  useEffect(() => () => figure?.dispose(), [figure]);
  useEffect(
    () => () => {
      for (const ghost of pale) ghost.dispose();
    },
    [pale],
  );

  useEffect(() => {
    const player = playerFor(shot);
    pale.forEach((ghost, i) => {
      if (ghosts[i] === undefined) return;
      player.pose(ghosts[i]);
      ghost.follow(player);
    });
    invalidate();
  }, [shot, pale, ghosts, invalidate]);

  useEffect(() => {
    const player = live?.player ?? playerFor(shot);
    const draw = () => {
      if (size.width === 0) return;
      player.pose(clock.frame);
      figure?.follow(player);
      if (over) {
        const other = playerFor(over);
        other.pose(clock.frame);
        pale[0]?.follow(other);
      }
      landing?.follow(player);
      if (cameraName !== "free") placeCamera(camera as PerspectiveCamera, cameraName, shot, player);
      invalidate();
    };
    draw();
    const stops = [clock.subscribe(draw), usePictureZoom.subscribe(draw)];
    return () => {
      for (const stop of stops) stop();
    };
  }, [shot, live, over, pale, figure, landing, camera, cameraName, invalidate, size]);

  return { pale };
}

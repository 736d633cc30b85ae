import { tell } from "../notices.ts";

/** The figure with its playback alone on the screen, or back to the bench. */
export function toggleFullScreen(): void {
  if (document.fullscreenElement) void document.exitFullscreen();
  else
    void document
      .querySelector(".stage-side")
      ?.requestFullscreen()
      .catch(() => tell("This browser does not let the figure take the whole screen."));
}

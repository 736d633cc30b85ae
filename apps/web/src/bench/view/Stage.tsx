import { Canvas } from "@react-three/fiber";
import { memo } from "react";
import { StageContents } from "./StageContents.tsx";
import type { StageProps } from "./stageProps.ts";

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
      // What three says of a shader that fails is for who writes one; asking waits for the graphics card.
      onCreated={({ gl }) => {
        gl.debug.checkShaderErrors = false;
      }}
      onPointerMissed={() => props.onPick(null, false)}
      aria-hidden
    >
      <StageContents {...props} />
    </Canvas>
  );
});

import { useEffect } from "react";
import { Group, Panel, Separator } from "react-resizable-panels";
import { usePreferences } from "../app/preferences.ts";
import { Rack } from "./rack/Rack.tsx";
import { useAfterFirst } from "./useAfterFirst.ts";
import { useSplitter } from "./useSplitters.ts";
import { afterPictureBegun, pictureAwaited } from "./view/firstPicture.ts";
import { Transport } from "./view/Transport.tsx";
import { ViewPanel } from "./view/ViewPanel.tsx";
import { WorkCard } from "./work/WorkCard.tsx";

/**
 * The view with the work card and the rack. In the layout that looks they change from side by side to one above the
 * other; nothing of them is made anew for that.
 */
export function BenchPanels() {
  const layout = usePreferences((state) => state.layout);
  const looks = layout === "look";
  // The figure is the first to be seen; while the graphics card draws it the trays are made.
  const after = useAfterFirst(afterPictureBegun);
  useEffect(pictureAwaited, []);
  const columns = useSplitter("columns", "left", "rack");
  const left = useSplitter("left", "view", "work");
  return (
    <Group
      orientation={looks ? "vertical" : "horizontal"}
      id="bench-columns"
      groupRef={columns.ref}
      defaultLayout={columns.sizes}
      onLayoutChanged={columns.changed}
    >
      <Panel id="left" minSize={looks ? "160px" : "300px"}>
        <div className="column">
          <Group
            orientation={looks ? "horizontal" : "vertical"}
            id="bench-left"
            groupRef={left.ref}
            defaultLayout={left.sizes}
            onLayoutChanged={left.changed}
          >
            <Panel id="view" minSize="160px">
              <div className="column stage-side">
                <ViewPanel />
                <Transport />
              </div>
            </Panel>
            <Separator className={looks ? "splitter" : "splitter across"} />
            <Panel id="work" minSize={looks ? "300px" : "170px"}>
              <div className="column">{after && <WorkCard />}</div>
            </Panel>
          </Group>
        </div>
      </Panel>
      <Separator className={looks ? "splitter across" : "splitter"} />
      <Panel id="rack" minSize={looks ? "150px" : "400px"}>
        {after && <Rack slim={looks} />}
      </Panel>
    </Group>
  );
}

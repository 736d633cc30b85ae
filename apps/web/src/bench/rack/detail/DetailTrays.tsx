import { Group, Panel, Separator } from "react-resizable-panels";
import { type Detail, usePreferences } from "../../../app/preferences.ts";
import { CurveTray } from "../curves/CurveTray.tsx";
import { SheetTray } from "../sheet/SheetTray.tsx";
import { SpacingTray } from "../spacing/SpacingTray.tsx";

const trays: Record<Detail, () => React.ReactNode> = { curves: CurveTray, sheet: SheetTray, spacing: SpacingTray };
const names: Record<Detail, string> = { curves: "Curves", sheet: "Sheet", spacing: "Spacing" };

/** The detail: one tray, or two of them one above the other. */
export function DetailTrays() {
  const { detail, below } = usePreferences();
  if (below === null || below === detail) return <Tray detail={detail} />;
  return (
    <div className="details">
      <Group orientation="vertical" id="details">
        <Panel id="above" defaultSize="56%" minSize="90px">
          <Tray detail={detail} />
        </Panel>
        <Separator className="splitter across" />
        <Panel id="below" minSize="90px">
          <Tray detail={below} />
        </Panel>
      </Group>
    </div>
  );
}

function Tray({ detail }: { detail: Detail }) {
  const Content = trays[detail];
  return (
    <section className="detail" aria-label={names[detail]}>
      <Content />
    </section>
  );
}

import { Drawer } from "antd";
import { useDialogs } from "./dialogs.ts";
import { useDocuments } from "./documents.ts";
import { sayAgo } from "./units.ts";

/** Every step since the shot was opened; click one to go there. */
export function HistoryDrawer() {
  const open = useDialogs((state) => state.open === "history");
  const show = useDialogs((state) => state.show);
  const history = useDocuments((state) => (state.current ? state.open[state.current]?.history : undefined));
  const goTo = useDocuments((state) => state.goTo);
  return (
    <Drawer open={open} onClose={() => show(null)} title="History" size={320}>
      <ol className="history-list">
        {history?.steps.map((step, i) => (
          <li key={`${step.at}-${step.name}`}>
            <button
              type="button"
              aria-current={i === history.present}
              className={i > history.present ? "undone" : ""}
              onClick={() => goTo(i)}
            >
              <span>{step.name}</span>
              <span className="quiet">{sayAgo(step.at, Date.now())}</span>
            </button>
          </li>
        ))}
      </ol>
    </Drawer>
  );
}

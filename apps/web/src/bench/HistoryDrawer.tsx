import { type History, operations, recipeFromSteps } from "@kneader/core";
import { Button, Drawer, Tooltip } from "antd";
import { useDialogs } from "./dialogs.ts";
import { useDocuments } from "./documents.ts";
import { tell } from "./notices.ts";
import { sayAgo } from "./units.ts";
import { useWork } from "./work/workStore.ts";

/** The steps up to the present one as a recipe, in the card in which it is changed, kept and run. */
function makeRecipe(history: History): void {
  const done = history.steps
    .slice(1, history.present + 1)
    .flatMap(({ made }, n) => (made ? [{ made, before: history.steps[n].shot }] : []));
  const { recipe, left } = recipeFromSteps(`What was done to ${history.steps[0].shot.name}`, done);
  if (recipe.steps.length === 0) {
    tell("None of these steps can be done again on another shot.");
    return;
  }
  useDialogs.getState().show(null);
  useWork.getState().open(operations.runRecipe.id, { recipe, fresh: true });
  if (left.length > 0) tell(left.join(" "));
}

/** Every step since the shot was opened; click one to go there. */
export function HistoryDrawer() {
  const open = useDialogs((state) => state.open === "history");
  const show = useDialogs((state) => state.show);
  const history = useDocuments((state) => (state.current ? state.open[state.current]?.history : undefined));
  const goTo = useDocuments((state) => state.goTo);
  return (
    <Drawer
      open={open}
      onClose={() => show(null)}
      title="History"
      size={320}
      footer={
        <Tooltip title="The steps up to here, to be done again on other shots">
          <Button disabled={!history || history.present === 0} onClick={() => history && makeRecipe(history)}>
            Make a recipe
          </Button>
        </Tooltip>
      }
    >
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

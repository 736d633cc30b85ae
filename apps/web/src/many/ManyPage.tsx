import { countedWord, currentShot, operations, type Recipe, type Shot } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { useQuery } from "@tanstack/react-query";
import { App as AntApp, Button, Progress, Segmented } from "antd";
import { Download, Play, Square, Undo2 } from "lucide-react";
import { useEffect } from "react";
import { Header } from "../app/Header.tsx";
import { propertiesOf } from "../bench/recipes/stepValues.ts";
import { useDocuments } from "../bench/documents.ts";
import { useToldNotices } from "../bench/useToldNotices.tsx";
import { SettingsForm } from "../bench/work/SettingsForm.tsx";
import { download } from "../export/download.ts";
import { makeDemoShot } from "../shots/demo.ts";
import { saveNow } from "../storage/autosave.ts";
import { shotRecords } from "../storage/kept.ts";
import { listShots } from "../storage/shelf.ts";
import type { Order } from "./runOnShot.ts";
import { putAllBack, reportLines, runOnAll, stopAll, useMany } from "./many.ts";
import { ShotTable } from "./ShotTable.tsx";
import "./many.css";

/** A shot to show what a recipe's settings stand for: the first that is chosen, or one that comes along. */
function useExample(id: string | undefined): Shot | null {
  const { data } = useQuery({
    queryKey: ["shelf", "example", id],
    queryFn: async () => {
      const open = id === undefined ? undefined : useDocuments.getState().open[id];
      if (open) return currentShot(open.history);
      const kept = id === undefined ? null : await shotRecords.load(id).catch(() => null);
      return kept?.shot ?? (await makeDemoShot(id ?? "demo-half-a-walk")) ?? makeDemoShot("demo-half-a-walk");
    },
    placeholderData: (before) => before,
  });
  return data ?? null;
}

const PROPERTIES = propertiesOf(operations.runRecipe);

/** A recipe on many shots: what is to be done on the left, to whom and what came of it on the right. */
export function ManyPage() {
  useToldNotices();
  const many = useMany();
  const { recipe, answers, chosen, going } = many;
  const { data: kept } = useQuery({
    queryKey: ["shelf", "names"],
    queryFn: async () => {
      await saveNow();
      return (await listShots()).shots;
    },
    refetchOnMount: "always",
  });
  // Shots that were deleted meanwhile are not meant any more.
  useEffect(() => {
    const isThere = (id: string) => kept?.some((record) => record.id === id) || demoShots.some((demo) => demo.id === id);
    const { chosen: all, going: busy } = useMany.getState();
    if (kept && !busy && !all.every(isThere)) useMany.setState({ chosen: all.filter(isThere) });
  }, [kept]);
  const example = useExample(chosen[0]);
  useRunKeys();
  return (
    <div className="page">
      <Header page="many" />
      <main className="many-main">
        <section className="panel many-side" aria-label="Recipe for many shots">
          <h2>Run a recipe on many shots</h2>
          {example && (
            <SettingsForm
              properties={PROPERTIES}
              values={{ recipe, answers }}
              shot={example}
              disabled={going}
              onChange={(values) => useMany.setState(values)}
            />
          )}
          <WhereField />
          <Foresight />
          <span className="spring" />
          <RunButtons />
        </section>
        <ShotTable kept={kept ?? []} />
      </main>
    </div>
  );
}

function WhereField() {
  const { where, going } = useMany();
  return (
    <div className="setting">
      <span className="setting-title">Results</span>
      <Segmented
        size="small"
        aria-label="Results"
        disabled={going}
        value={where}
        options={[
          { value: "new", label: "New shots" },
          { value: "in place", label: "In place" },
        ]}
        onChange={(next: Order["where"]) => useMany.setState({ where: next })}
      />
    </div>
  );
}

/** Steps that are for what is picked or marked on the bench. */
function lostQueries({ steps }: Recipe): string[] {
  return steps.flatMap(({ on, who, when }, n) => {
    if (!on) return [];
    if (who.picked) return [`Step ${n + 1} is for who is picked, and here nobody is: say otherwise whom it is for.`];
    return when.kind === "range" ? [`Step ${n + 1} works in the marked range; here none is marked, so it works in the whole shot.`] : [];
  });
}

/** What will be, before it is. */
function Foresight() {
  const { recipe, where, chosen, going } = useMany();
  const open = useDocuments((state) => state.open);
  if (!recipe)
    return <p className="quiet">Choose a recipe, or open one from a file. In the history of a shot one is made of what was done.</p>;
  const onBench = where === "in place" && !going ? chosen.filter((id) => open[id]) : [];
  const shots = countedWord(chosen.length, "shot");
  return (
    <>
      {chosen.length > 0 && (
        <p className="note">
          {where === "new"
            ? `${shots} will get a copy each, called "…, ${recipe.name}". What is there stays as it is.`
            : `${shots} will be changed. It is one step in the history of each, to be undone here or on the bench.`}
        </p>
      )}
      {onBench.length > 0 && (
        <p className="quiet">{countedWord(onBench.length, "of them is", "of them are")} open on the bench, and changed there too.</p>
      )}
      {lostQueries(recipe).map((text) => (
        <p key={text} className="many-warned">
          {text}
        </p>
      ))}
    </>
  );
}

function RunButtons() {
  const { recipe, chosen, standings, going } = useMany();
  const { message } = AntApp.useApp();
  const all = Object.values(standings);
  const of = (...kinds: string[]) => all.filter(({ kind }) => kinds.includes(kind)).length;
  const undone = of("put back");
  const [done, failed, ended] = [of("done"), of("failed"), of("done", "failed", "stopped", "put back")];
  const back = async () => {
    const refused = await putAllBack();
    for (const why of refused.slice(0, 3)) message.error(why);
    if (refused.length > 3) message.error(`${refused.length - 3} more could not be put back.`);
  };
  return (
    <>
      {all.length > 0 && (
        <div className="many-progress" role="status">
          <Progress
            percent={Math.round((100 * ended) / all.length)}
            showInfo={false}
            aria-label="Shots done"
            status={failed > 0 ? "exception" : undefined}
          />
          <span>
            {undone > 0 && done === 0 ? "" : `${done} of ${all.length} done`}
            {undone > 0 ? `${done === 0 ? "" : ", "}${undone} put back` : ""}
            {failed > 0 ? `, ${failed} failed` : ""}
          </span>
        </div>
      )}
      <div className="many-buttons">
        {going ? (
          <Button icon={<Square size={14} />} onClick={stopAll} title="What is done stays done (Esc)">
            Stop
          </Button>
        ) : (
          <Button
            type="primary"
            icon={<Play size={14} />}
            disabled={!recipe || chosen.length === 0}
            onClick={() => void runOnAll()}
            title="Run the recipe on the shots that are chosen (Ctrl Enter)"
          >
            Run on {countedWord(chosen.length, "shot")}
          </Button>
        )}
        {!going && done > 0 && (
          <>
            <Button icon={<Undo2 size={14} />} onClick={() => void back()} title="Make all of them as they were; new shots go">
              Undo all
            </Button>
            <Button
              type="text"
              icon={<Download size={14} />}
              aria-label="Download the report"
              title="The report as a file: a line of JSON for each shot"
              onClick={() => download(reportLines(), "recipe-report.jsonl")}
            />
          </>
        )}
      </div>
    </>
  );
}

/** Ctrl Enter runs, Esc stops. */
function useRunKeys(): void {
  useEffect(() => {
    const press = (event: KeyboardEvent) => {
      if (event.key === "Enter" && (event.ctrlKey || event.metaKey)) void runOnAll();
      else if (event.key === "Escape" && useMany.getState().going) stopAll();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", press);
    return () => window.removeEventListener("keydown", press);
  }, []);
}

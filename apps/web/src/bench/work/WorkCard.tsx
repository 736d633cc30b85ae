import { fieldPass, operationById, operations, sayError, settingsSchema } from "@kneader/core";
import { App as AntApp, Button, Tooltip } from "antd";
import { Eye, Info } from "lucide-react";
import { useEffect, useMemo, useRef } from "react";
import { useDocuments, useReadOnly, useShot } from "../documents.ts";
import { sayScope } from "../sayScope.ts";
import { scopeOf, useSelection } from "../selection.ts";
import { useDialogs } from "../dialogs.ts";
import { isByKey } from "../keyOwner.ts";
import { usePreferences } from "../../app/preferences.ts";
import { FirstSteps } from "../../help/FirstSteps.tsx";
import { Drawer } from "../drawer/Drawer.tsx";
import { useDrawer } from "../drawer/drawerStore.ts";
import { useCards } from "../../pantry/useActions.ts";
import { FieldCard } from "../field/FieldCard.tsx";
import "./apply.css";
import { applyWork, mayKeepSoFar } from "./apply.ts";
import { OperationList } from "./OperationList.tsx";
import { ReportView } from "./ReportView.tsx";
import type { Property } from "./property.ts";
import { SettingsForm } from "./SettingsForm.tsx";
import { useLivePreview } from "./useLivePreview.ts";
import { useWork } from "./workStore.ts";

/** The operation at hand: scope, settings, live result, apply; or the list to choose from. */
export function WorkCard() {
  const operation = useWork((state) => state.operation);
  const welcomed = usePreferences((state) => state.welcomed);
  const shot = useShot();
  const layer = useSelection((state) => state.layer);
  const drawer = useDrawer((state) => state.isOpen);
  const listed = useWork((state) => state.listedFor === layer);
  const field = listed || drawer ? undefined : shot.passes.find(({ id, kind }) => id === layer && kind === fieldPass.id);
  return (
    <section className="panel work" aria-label="Work card">
      <LivePreview />
      {operation ? (
        <Work key={operation} id={operation} />
      ) : field ? (
        <FieldCard key={field.id} pass={field} shot={shot} />
      ) : drawer ? (
        <Drawer />
      ) : welcomed ? (
        <OperationList />
      ) : (
        <FirstSteps />
      )}
    </section>
  );
}

/** By itself, so that a change of what is picked does not draw the whole card anew. */
function LivePreview() {
  useLivePreview();
  return null;
}

const fields = ".settings :is(input, textarea, button, [role=slider]):not(:disabled, [tabindex='-1'])";

const isText = (field: HTMLElement) => field instanceof HTMLTextAreaElement || field.matches("input.ant-input");

/** Says beforehand that an action of that name is there already. */
function SameNamed({ settings: { name, folder } }: { settings: Readonly<Record<string, unknown>> }) {
  const same = (useCards() ?? []).find((card) => card.name === String(name).trim() && card.folder === folder);
  return same ? (
    <p className="quiet" role="status">
      "{same.name}" is in {same.folder} already: it will be replaced, and what it was kept under Earlier in the pantry.
    </p>
  ) : null;
}

function Work({ id }: { id: string }) {
  const shot = useShot();
  const readOnly = useReadOnly();
  const { settings, outcome, problem, progress, asked, set, close } = useWork();
  const selection = useSelection();
  const { message } = AntApp.useApp();
  const operation = operationById(id);
  const properties = useMemo(() => (settingsSchema(operation).properties ?? {}) as Record<string, Property>, [operation]);
  const saves = operation.makes !== undefined;
  const waits = operation.waits?.(settings) ?? null;
  const body = useRef<HTMLDivElement>(null);
  // Whoever opened it with a key goes on with keys; what is a text to begin with is to be typed.
  useEffect(() => {
    const first = body.current?.querySelector<HTMLElement>(fields);
    if (!first || !(isByKey() || isText(first))) return;
    first.focus();
    if (first instanceof HTMLInputElement || first instanceof HTMLTextAreaElement) first.select();
  }, []);
  const apply = async () => {
    try {
      const said = await applyWork();
      if (said) message.success(said);
    } catch (error) {
      message.error(sayError(error));
    }
  };
  const before = (show: boolean) => useDocuments.getState().setPreview(show || !outcome || outcome.shot === shot ? null : outcome.shot);
  const does = saves ? "Save" : "Apply";
  const isReady = progress === null || mayKeepSoFar(id, outcome);
  // Apply comes right after the settings in the order of Tab, though it stands below the report.
  return (
    <div role="group" aria-label={operation.title} className="work-body" ref={body}>
      <header>
        <h2>
          {operation.title}
          <Tooltip title={`${operation.help} Press for its page of help`}>
            <button
              type="button"
              className="help"
              aria-label={`About ${operation.title}`}
              tabIndex={-1}
              onClick={() => useDialogs.getState().showGuide(id)}
            >
              <Info size={14} aria-hidden />
            </button>
          </Tooltip>
        </h2>
        <span className="quiet scope" title="What this works on">
          {sayScope(shot, scopeOf(selection), operation, settings)}
        </span>
      </header>
      <div className="work-scroll">
        <SettingsForm properties={properties} values={settings} shot={shot} disabled={readOnly} onChange={set} />
      </div>
      <footer>
        <span className="apply">
          <Button type="primary" size="large" disabled={readOnly || (!outcome && progress === null)} onClick={() => void apply()}>
            {isReady ? does : asked ? `${saves ? "Saves" : "Applies"} when ready` : `${does} when ready`} <kbd>Enter</kbd>
          </Button>
          {progress !== null && progress > 0.02 && (
            <span
              className="apply-progress"
              role="progressbar"
              aria-label="Working"
              aria-valuenow={Math.round(progress * 100)}
              aria-valuemin={0}
              aria-valuemax={100}
              style={{ width: `${Math.round(progress * 100)}%` }}
            />
          )}
        </span>
        <Button size="large" onClick={close}>
          Cancel <kbd>Esc</kbd>
        </Button>
        <span className="spring" />
        {!saves && (
          <Button
            icon={<Eye size={15} />}
            size="large"
            disabled={!outcome}
            onPointerDown={() => before(true)}
            onPointerUp={() => before(false)}
            onPointerLeave={() => before(false)}
            onKeyDown={(event) => event.key === " " && before(true)}
            onKeyUp={(event) => event.key === " " && before(false)}
            onBlur={() => before(false)}
          >
            See before
          </Button>
        )}
      </footer>
      <div className="outcome">
        {id === operations.saveAction.id && <SameNamed settings={settings} />}
        {problem && (
          <p className="problem" role="alert">
            {problem}
          </p>
        )}
        {waits && <p className="quiet">{waits}</p>}
        {outcome && !problem && <ReportView outcome={outcome} shot={shot} />}
        {progress !== null && mayKeepSoFar(id, outcome) && (
          <p className="quiet">It is still getting better. Enter keeps what there is so far.</p>
        )}
      </div>
    </div>
  );
}

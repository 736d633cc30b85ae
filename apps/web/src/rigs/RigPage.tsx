import { Alert, Button } from "antd";
import { useMemo, useState } from "react";
import { withoutPartner } from "@kneader/core";
import { useNavigate, useParams } from "react-router";
import { Header } from "../app/Header.tsx";
import { useDocuments, useReadOnly, useShot } from "../bench/documents.ts";
import { OpenedShot } from "../bench/OpenedShot.tsx";
import { useToldNotices } from "../bench/useToldNotices.tsx";
import { JointRanges } from "./JointRanges.tsx";
import { OtherShots } from "./OtherShots.tsx";
import { RigTable } from "./RigTable.tsx";
import { RigTies } from "./RigTies.tsx";
import { RigTools } from "./RigTools.tsx";
import { rigRows } from "./rigRows.ts";
import { SideFigure } from "./SideFigure.tsx";
import { useProof } from "./useProof.ts";
import { useUndoKeys } from "./useUndoKeys.ts";
import "./rig.css";

const NOTHING = new Map<string, never>();

/** Who is whose partner, how each control is mirrored, and the proof of it. */
export function RigPage() {
  const { id = "" } = useParams();
  return (
    <OpenedShot id={id}>
      <RigOfShot />
    </OpenedShot>
  );
}

function RigOfShot() {
  const shot = useShot();
  const readOnly = useReadOnly();
  const navigate = useNavigate();
  const current = useDocuments((state) => state.current);
  const [picked, setPicked] = useState<string | null>(null);
  useToldNotices();
  useUndoKeys();
  const proved = useProof(shot);
  const rows = useMemo(() => {
    const lonely = new Set(withoutPartner(shot.rig).map((control) => control.id));
    return rigRows(shot, proved?.proofs ?? NOTHING, lonely);
  }, [shot, proved]);
  const problems = rows.filter(({ problem }) => problem !== null).length;
  return (
    <div className="page rig">
      <Header page="rig" />
      {readOnly && <Alert banner type="warning" title="This shot is open in another tab. Here its rig can be looked at, not changed." />}
      <main className="rig-main">
        <aside className="panel rig-side" aria-label="Left and right">
          <h2>{shot.rig.name}</h2>
          <SideFigure rig={shot.rig} rows={rows} picked={picked} onPick={setPicked} />
          <p className="quiet rig-legend">
            <i className="side-mark left" /> left <i className="side-mark right" /> right <i className="side-mark middle" /> middle
          </p>
          <RigTools shot={shot} disabled={readOnly} />
          <JointRanges shot={shot} picked={picked} disabled={readOnly} />
          <OtherShots shot={shot} />
          <RigTies shot={shot} />
          <span className="spring" />
          <Button onClick={() => navigate(`/shots/${current}`)}>Back to the bench</Button>
        </aside>
        <RigTable
          shot={shot}
          rows={rows}
          frames={proved?.frames ?? null}
          problems={problems}
          picked={picked}
          disabled={readOnly}
          onPick={setPicked}
        />
      </main>
    </div>
  );
}

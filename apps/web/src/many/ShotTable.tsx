import { countedWord } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { Input, Progress, Table } from "antd";
import { Search } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { sayAgo } from "../bench/units.ts";
import type { ShotRecord } from "../storage/shotRecords.ts";
import { type Standing, useMany } from "./many.ts";

interface Row {
  readonly id: string;
  readonly name: string;
  readonly note: string;
}

/** One's own shots, newest first, then the demo's that nobody has touched. */
function rowsOf(kept: readonly ShotRecord[]): Row[] {
  const untouched = demoShots.filter(({ id }) => !kept.some((record) => record.id === id));
  return [
    ...kept.map(({ id, name, savedAt }) => ({ id, name, note: `saved ${sayAgo(savedAt, Date.now())}` })),
    ...untouched.map(({ id, name }) => ({ id, name, note: "as it came" })),
  ];
}

/** The shots of this browser: those that are chosen, how it stands with them, and what came of them. */
export function ShotTable({ kept }: { kept: readonly ShotRecord[] }) {
  const { chosen, standings, going } = useMany();
  const [words, setWords] = useState("");
  // Results are new shots on top of the list; those that were worked on stay before them.
  const all = useMemo(() => {
    const rows = rowsOf(kept);
    return [...rows.filter(({ id }) => standings[id]), ...rows.filter(({ id }) => !standings[id])];
  }, [kept, standings]);
  const wanted = words.trim().toLowerCase();
  const rows = wanted ? all.filter(({ name }) => name.toLowerCase().includes(wanted)) : all;
  return (
    <section className="panel many-shots" aria-label="Shots">
      <header>
        <Input
          size="small"
          allowClear
          prefix={<Search size={13} />}
          placeholder="Find a shot"
          aria-label="Find a shot"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
        <span className="quiet" role="status">
          {chosen.length === 0 ? "Choose shots: the box on top takes all that are listed." : `${countedWord(chosen.length, "shot")} chosen`}
        </span>
      </header>
      <Table<Row>
        size="small"
        rowKey="id"
        pagination={false}
        dataSource={rows}
        locale={{ emptyText: "No shot is called so." }}
        rowSelection={{
          selectedRowKeys: [...chosen],
          // Those that are not listed just now stay chosen.
          preserveSelectedRowKeys: true,
          onChange: (keys) => useMany.setState({ chosen: keys.map(String) }),
          getCheckboxProps: ({ name }) => ({ disabled: going, "aria-label": `Choose ${name}` }),
        }}
        expandable={{
          rowExpandable: ({ id }) => standings[id]?.kind === "done",
          expandedRowRender: ({ id }) => <Steps standing={standings[id]} />,
        }}
        columns={[
          { key: "name", title: "Shot", width: "30%", render: (_, { name, note }) => <Name name={name} note={note} /> },
          { key: "keys", title: "Keys", width: 120, render: (_, { id }) => <Keys standing={standings[id]} /> },
          { key: "drift", title: "Drift", width: 150, render: (_, { id }) => <Drift standing={standings[id]} /> },
          { key: "became", title: "What came of it", render: (_, { id }) => <Became standing={standings[id]} /> },
        ]}
      />
    </section>
  );
}

function Name({ name, note }: { name: string; note: string }) {
  return (
    <span className="many-name">
      <b title={name}>{name}</b>
      <span className="quiet">{note}</span>
    </span>
  );
}

const count = (keys: number) => keys.toLocaleString("en").replaceAll(",", " ");

function Keys({ standing }: { standing: Standing | undefined }) {
  if (standing?.kind !== "done") return null;
  const { keysBefore, keysAfter } = standing.result.report;
  return (
    <span className="mono">
      {count(keysBefore)} → {count(keysAfter)}
    </span>
  );
}

function Drift({ standing }: { standing: Standing | undefined }) {
  if (standing?.kind !== "done") return null;
  const { drift } = standing.result;
  return drift ? (
    <span className="mono many-drift">{drift}</span>
  ) : (
    <span className="quiet" title="The result has other frames or other controls">
      –
    </span>
  );
}

/** How it stands with a shot, in a line. */
function Became({ standing }: { standing: Standing | undefined }) {
  if (!standing) return null;
  switch (standing.kind) {
    case "waits":
      return <span className="quiet">waits</span>;
    case "works":
      return <Progress size="small" percent={Math.round(100 * standing.share)} aria-label="Progress" />;
    case "stopped":
      return <span className="quiet">stopped; it is as it was</span>;
    case "put back":
      return <span className="quiet">put back</span>;
    case "failed":
      return (
        <span className="many-failed" role="alert">
          {standing.why}
        </span>
      );
    case "done": {
      const { id, name, report, caution } = standing.result;
      const { length } = report.warnings;
      return (
        <span className="many-done">
          <Link to={`/shots/${id}`} aria-label={`Open ${name}`} title={`Open ${name}`}>
            Open
          </Link>
          {length > 0 && <span className="many-warned">{countedWord(length, "warning")}</span>}
          {caution && <span className="many-failed">{caution}</span>}
        </span>
      );
    }
  }
}

/** What each step did, and what it warned of. */
function Steps({ standing }: { standing: Standing | undefined }) {
  if (standing?.kind !== "done") return null;
  const { notes, warnings } = standing.result.report;
  return (
    <ul className="note-list">
      {notes.map((note) => (
        <li key={note}>{note}</li>
      ))}
      {warnings.map((warning) => (
        <li key={warning} className="many-warned">
          {warning}
        </li>
      ))}
    </ul>
  );
}

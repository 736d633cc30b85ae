import { listed, type Shot } from "@kneader/core";
import { App as AntApp, Button } from "antd";
import { useState } from "react";
import { tell } from "../bench/notices.ts";
import { mirrorAlike, shotsWithRig } from "./otherShots.ts";

/** Takes partners, rules and sides over to every other shot with this rig, after saying which those are. */
export function OtherShots({ shot }: { shot: Shot }) {
  const { modal, message } = AntApp.useApp();
  const [busy, setBusy] = useState(false);
  const ask = async () => {
    setBusy(true);
    try {
      const others = await shotsWithRig(shot);
      if (others.length === 0) return void message.info("No other shot here has this rig.");
      const names = others.map(({ name }) => `"${name}"`);
      modal.confirm({
        title: `Mirror ${others.length === 1 ? "one other shot" : `${others.length} other shots`} alike?`,
        content: `${listed(names)} take the partners, the rules, the ranges of joints and the sides of this rig. Their motion stays. It is a step in the history of each.`,
        okText: "Mirror them alike",
        cancelText: "Leave them",
        onOk: async () => {
          const refused = await mirrorAlike(shot.rig, others);
          const done = others.length - refused.length;
          if (done > 0) message.success(`${done} ${done === 1 ? "shot is" : "shots are"} mirrored alike.`);
          if (refused.length > 0) tell(`Not changed: ${refused.join("; ")}.`);
        },
      });
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="rig-buttons">
      <Button size="small" loading={busy} onClick={() => void ask()}>
        Take over to other shots …
      </Button>
    </div>
  );
}

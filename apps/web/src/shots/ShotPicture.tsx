import { currentShot, type Shot } from "@kneader/core";
import { useEffect, useState } from "react";
import { useDocuments } from "../bench/documents.ts";
import { shotRecords } from "../storage/kept.ts";
import { thumbnailStore } from "../storage/stores.ts";
import { makeDemoShot } from "./demo.ts";

const WIDTH = 300;
const HEIGHT = 190;

interface Kept {
  version: number;
  picture: string;
}

const nextPaint = () => new Promise<void>((done) => requestAnimationFrame(() => requestAnimationFrame(() => setTimeout(done, 0))));

async function shotFor(id: string): Promise<Shot | null> {
  const entry = useDocuments.getState().open[id];
  if (entry) return currentShot(entry.history);
  return (await shotRecords.load(id))?.shot ?? (await makeDemoShot(id));
}

/** A few poses of a shot side by side, drawn once and kept until the shot changes. */
export function ShotPicture({ id, version }: { id: string; version: number }) {
  const [picture, setPicture] = useState<string | null>(null);
  useEffect(() => {
    let wanted = true;
    const draw = async () => {
      const kept = await thumbnailStore.getItem<Kept>(id).catch(() => null);
      if (kept && wanted) setPicture(kept.picture);
      if (kept?.version === version) return;
      // The shelf itself is to be seen before its pictures are drawn.
      await nextPaint();
      const shot = await shotFor(id).catch(() => null);
      if (!shot || !wanted) return;
      const { drawStrip } = await import("../bench/view/strip.ts");
      const drawn = await drawStrip(shot, WIDTH, HEIGHT);
      if (!drawn) return;
      if (wanted) setPicture(drawn);
      await thumbnailStore.setItem(id, { version, picture: drawn } satisfies Kept).catch(() => undefined);
    };
    void draw();
    return () => {
      wanted = false;
    };
  }, [id, version]);
  return picture ? <img src={picture} alt="" width={WIDTH} height={HEIGHT} draggable={false} /> : <span className="picture-wait" />;
}

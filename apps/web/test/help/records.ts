import { BASE, type Shot, setKey, withLayerCurves } from "@kneader/core";
import { demoShots } from "@kneader/demo";
import { ShotDoor } from "../../src/storage/shotDoor.ts";
import { type ShotRecord, ShotRecords } from "../../src/storage/shotRecords.ts";
import { BrowserLocks, browserStores, type Fault, Tab } from "./browser.ts";

export const demo = demoShots[1].make() as Shot;
export const none = async () => null;

/** The shot with one more edit, which can be told from all others. */
export function edited(shot: Shot, n: number): Shot {
  const keys = Object.keys(shot.base);
  const key = keys[n % keys.length];
  return withLayerCurves({ ...shot, name: `Edit ${n}` }, BASE, { ...shot.base, [key]: setKey(shot.base[key], (n % 40) + 1, n) });
}

export function opened(fault?: Fault) {
  const browser = browserStores();
  const locks = new BrowserLocks();
  const tabs: Tab[] = [];
  const tab = (own: Fault | undefined = fault) => {
    const one = new Tab(browser, own);
    tabs.push(one);
    const records = new ShotRecords(one.stores);
    const die = () => {
      one.kill();
      locks.drop(one);
    };
    return { tab: one, records, door: new ShotDoor(records, locks.of(one)), die };
  };
  return { browser, locks, tab };
}

/** Every curve that is in the browser's storage and every one that a record names. */
export async function census(browser: ReturnType<typeof browserStores>) {
  const stored = new Set(await browser.curves.keys());
  const named = new Set<string>();
  for (const id of await browser.shots.keys())
    for (const key of (await browser.shots.getItem<ShotRecord>(id))?.curveKeys ?? []) named.add(key);
  return { stored, named, orphans: [...stored].filter((key) => !named.has(key)), holes: [...named].filter((key) => !stored.has(key)) };
}

export async function load(world: ReturnType<typeof opened>, id = demo.id): Promise<Shot | null> {
  return (await new ShotRecords(world.browser).load(id))?.shot ?? null;
}

import type { Page } from "@playwright/test";
import { makePlayer, originFile, readShot } from "@kneader/core";
import { GLTFLoader } from "three/examples/jsm/loaders/GLTFLoader.js";
import { chromium as settings } from "../e2e/chromium.ts";
import { drawnAsset } from "../apps/web/src/bench/view/figures/drawnAsset.ts";
import { makeCharacter } from "../packages/core/test/help/characters.ts";
import { atMost, median, medians, type Row } from "./measure.ts";
import { dropToPlaying, scriptPerFrame } from "./page.ts";
import { served } from "./served.ts";

/** 80 joints, as many limbs of 40 rings and so many sides: 100 000 or 200 000 triangles. */
const character = (sides: number) => makeCharacter({ influences: 4, tail: 62, rings: 40, sides, seconds: 4 });

/** Reading, placing and writing, without a picture. */
async function withoutPicture(): Promise<Row[]> {
  Object.assign(globalThis, { ProgressEvent: class extends Event {}, self: globalThis });
  const bytes = await character(16);
  const { shot } = await readShot(bytes, "heron.glb");
  if (!shot.asset) throw new Error("no asset");
  const { scene, parser } = await new GLTFLoader().parseAsync(bytes.slice().buffer as ArrayBuffer, "");
  scene.traverse((object) => {
    object.userData.kneaderNode = parser.associations.get(object)?.nodes;
  });
  const figure = drawnAsset({ hash: shot.asset.hash, scene }, shot.asset, shot.rig);
  const player = makePlayer(shot);
  let frame = 1;
  const times = await medians({
    frame: () => {
      frame = (frame % 90) + 1;
      player.pose(frame);
      figure.follow(player);
      figure.group.updateMatrixWorld(true);
    },
    read: () => readShot(bytes, "heron.glb"),
    back: () => originFile.write(shot, { asset: bytes }),
  });
  return [
    atMost("A frame of a character of 80 joints and 100 000 triangles, script beyond drawing", times.frame, 4),
    { work: `Reading its file (${Math.round(bytes.length / 1e5) / 10} MB) into a shot`, ms: times.read },
    { work: "Putting its motion back into that file", ms: times.back },
  ];
}

/** From dropping a character to its playing, and the script a frame then. */
async function inPage(page: Page, origin: string, sides: number): Promise<{ playing: number; frame: number }> {
  const playing = await dropToPlaying(page, origin, "heron.glb", await character(sides));
  return { playing, frame: await scriptPerFrame(page, 40, async () => undefined) };
}

/** Characters from files of their own. */
export async function benchCharacters(): Promise<Row[]> {
  const rows = await withoutPicture();
  await served(async (browser, origin) => {
    const some: { playing: number; frame: number }[] = [];
    for (let n = 0; n < 3; n++) {
      const page = await (await browser.newContext({ viewport: settings.viewport })).newPage();
      some.push(await inPage(page, origin, 16));
      await page.context().close();
    }
    rows.push(
      atMost(
        "From a dropped character of 80 joints and 100 000 triangles to its playing",
        median(some.map(({ playing }) => playing)),
        3000,
      ),
    );
    const page = await (await browser.newContext({ viewport: settings.viewport })).newPage();
    const large = await inPage(page, origin, 32);
    rows.push({
      work: "The same with 200 000 triangles",
      ms: large.playing,
      note: `plays; ${large.frame.toFixed(1)} ms JavaScript a frame, drawing in software and all`,
    });
  });
  return rows;
}

import { z } from "zod";
import { type ChannelKey, splitChannelKey } from "../model/rig.ts";
import type { FrameReader, TimedPassKind } from "./passKind.ts";
import { retimedSettings, settingOverTime } from "./settingAt.ts";

const NAME = "Lag";

const settings = z.object({
  frames: z
    .number()
    .min(-200)
    .max(200)
    .default(3)
    .meta({ title: "The first late by", unit: "frames", max: 24, step: 0.5, help: "Below 0 it is early." }),
  stagger: z.number().min(-50).max(50).default(0).meta({
    title: "Each next later by",
    unit: "frames",
    max: 12,
    step: 0.5,
    help: "Each control by so much more than the one before it, in the order in which they were picked.",
  }),
});

/** Plays its members late; the further down the list, the later. */
export const lagPass: TimedPassKind = {
  id: "lag",
  title: "Lag",
  help: "Plays what is below it late, each control of a chain a little later than the one before.",
  reads: "time",
  madeBy: "lag",
  offer: {
    words: "delay late offset stagger successive",
    guide: {
      use: "Plays some controls a little later than the rest, each a little more than the one before.",
      watch: "Contacts come late as well. Leave feet and hands on things out.",
    },
  },
  own: { name: NAME, channels: ["frames", "stagger"] },
  settings,
  reader(pass, shot) {
    const read = settings.safeParse(pass.settings);
    const { frames, stagger } = read.success ? read.data : settings.parse({});
    const late = settingOverTime(pass, NAME, "frames", frames);
    const more = settingOverTime(pass, NAME, "stagger", stagger);
    const controls = pass.members ? pass.members.map((key) => splitChannelKey(key).control) : shot.rig.controls.map(({ id }) => id);
    const places = new Map([...new Set(controls)].map((id, place) => [id, place]));
    const readers: FrameReader[] = [];
    return (key: ChannelKey) => {
      const place = places.get(splitChannelKey(key).control) ?? 0;
      readers[place] ??= (frame) => frame - late(frame) - place * more(frame);
      return readers[place];
    };
  },
  retimed: retimedSettings,
  checked: (pass) => pass,
};

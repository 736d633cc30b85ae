import { z } from "zod";
import type { TimedPassKind } from "./passKind.ts";
import { retimedSettings, settingOverTime } from "./settingAt.ts";

const NAME = "Stretch";

const settings = z.object({
  longer: z
    .number()
    .min(-90)
    .max(10000)
    .default(50)
    .meta({ title: "Longer by", unit: "percent", max: 200, step: 5, help: "100 % takes twice as long; −50 % half." }),
  about: z.number().default(1).meta({ title: "About frame", unit: "frame", step: 1, help: "This frame stays where it is." }),
});

/** Plays what is below slower or quicker about a frame. */
export const stretchPass: TimedPassKind = {
  id: "stretch",
  title: "Stretch",
  help: "Makes what is below it longer or shorter about a frame that stays.",
  reads: "time",
  madeBy: "stretch",
  offer: {
    words: "slow quick scale time longer",
    guide: {
      use: "Makes what is below longer or shorter, and can be turned down again.",
      watch: "What reaches past the end of the shot is not seen.",
    },
  },
  proposes: ({ start }) => ({ about: start }),
  own: { name: NAME, channels: ["longer"] },
  settings,
  reader(pass) {
    const read = settings.safeParse(pass.settings);
    const { longer, about } = read.success ? read.data : settings.parse({});
    const by = settingOverTime(pass, NAME, "longer", longer);
    const at = (frame: number) => about + (frame - about) / Math.max(0.1, 1 + by(frame) / 100);
    return () => at;
  },
  retimed: (pass, to) => retimedSettings({ ...pass, settings: { ...pass.settings, about: to(Number(pass.settings.about ?? 1)) } }, to),
  checked: (pass) => pass,
};

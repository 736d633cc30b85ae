import { z } from "zod";
import type { Pass } from "../../model/shot.ts";

const place = z.tuple([z.number(), z.number(), z.number()]);

/** One flight: the motion below leaves the ground at a frame and is back at another. */
const flight = z.object({
  /** Frames of the motion below. */
  takeOff: z.number(),
  landing: z.number(),
  /** How high above its take-off the top is, in scene units; null: as its frames and gravity make it, or as it was. */
  height: z.number().min(0).nullable().default(null),
  /** How far take-off and landing were moved, in scene units of the world. */
  takeOffBy: place.default([0, 0, 0]),
  landingBy: place.default([0, 0, 0]),
  /** How often it bounces after it. */
  bounces: z.number().int().min(0).max(50).default(0),
  /** Frames in the air and of each bounce, as worked out when it was made, so that keys below may change and its time stays; null: not yet. */
  frames: z.number().min(1).nullable().default(null),
  bounceFrames: z.array(z.number().min(1)).readonly().nullable().default(null),
});
export type Flight = z.infer<typeof flight>;

/** A flight between two frames of the motion below, nothing of it changed. */
export const flightOver = (takeOff: number, landing: number): Flight => flight.parse({ takeOff, landing });

export const flightSettings = z.object({
  flights: z.array(flight).max(1000).readonly().default([]).meta({ title: "Flights", widget: "flights", first: true }),
  flies: z
    .enum(["mass", "control"])
    .default("mass")
    .meta({
      title: "What flies",
      labels: { mass: "The figure's centre of mass", control: "A control" },
      help: "The centre of mass flies true while the figure tucks and turns about it; with a control it is that one's own place.",
      more: true,
    }),
  control: z
    .string()
    .default("")
    .meta({ title: "Control", widget: "control", when: { flies: "control" }, more: true }),
  rules: z
    .enum(["gravity", "timing"])
    .default("gravity")
    .meta({
      title: "What rules",
      labels: { gravity: "Gravity: a higher top takes longer", timing: "Timing: the frames stay" },
      help: "With gravity the landing comes later when the top is raised, and all after it with it. With timing it is said how strong gravity then is.",
    }),
  gravity: z
    .number()
    .min(1)
    .max(2000)
    .default(100)
    .meta({
      title: "Gravity",
      unit: "percent",
      widget: "dial",
      max: 300,
      step: 1,
      help: "Of the earth's, 9.80665 m/s²; the moon's is 17 %.",
      when: { rules: "gravity" },
    }),
  unit: z.number().min(0).default(0).meta({
    title: "Metres in a scene unit",
    step: 0.01,
    zero: "as the shot says",
    help: "Where the shot does not say, it must be told, or there is no saying how quickly things fall.",
    more: true,
  }),
  turns: z
    .boolean()
    .default(false)
    .meta({ title: "Turns evenly in the air", help: "From how it leaves to how it lands, whole turns kept." }),
  keys: z
    .enum(["every", "poses", "essential"])
    .default("every")
    .meta({
      title: "Keys",
      labels: { every: "On every frame", poses: "On the poses there are", essential: "Take-off, top, landing" },
      help: "Where the pass has its keys; between them it is only as true as they make it.",
      more: true,
    }),
  step: z
    .number()
    .int()
    .min(1)
    .max(100)
    .default(1)
    .meta({ title: "Every n-th frame", unit: "frames", max: 10, step: 1, when: { keys: "every" }, more: true }),
  loss: z.number().min(0).max(100).default(35).meta({
    title: "A bounce loses",
    unit: "percent",
    max: 100,
    step: 5,
    help: "Of its height, at each bounce.",
    more: true,
  }),
  along: z
    .array(z.string())
    .readonly()
    .default([])
    .meta({ title: "Flies along", widget: "controls", help: "What the figure carries and does not hang on it.", more: true }),
});
export type FlightSettings = z.infer<typeof flightSettings>;

/** What a pass of flights is told. */
export const flightOf = (pass: Pass): FlightSettings => flightSettings.parse(pass.settings);

/**
 * What is said in several words, and what is meant by it: commands by id, the likeliest first. A number that is said goes into the
 * card (`fill`, by the operation's own settings). Common practice: the sayings are the trade's, from no one program.
 */
interface Saying {
  readonly when: RegExp;
  readonly meant: readonly string[];
  fill?(numbers: readonly number[], text: string): Record<string, unknown> | null;
}

const isNumber = (value: number | undefined): value is number => value !== undefined && Number.isFinite(value);
const one =
  (name: string, make: (value: number) => unknown = (value) => value) =>
  (numbers: readonly number[]) =>
    isNumber(numbers[0]) ? { [name]: make(numbers[0]) } : null;

/** How fast a shot is to be, as the percent of its time it takes. */
function lengthSaid([value]: readonly number[], text: string): Record<string, unknown> | null {
  if (/twice as slow|half (the )?speed/.test(text)) return { factor: 200 };
  if (/half the time|twice as (fast|quick)|double (the )?speed/.test(text)) return { factor: 50 };
  return isNumber(value) && value > 0 ? { factor: value } : null;
}

const frameCount: Readonly<Record<string, string>> = { ones: "1", twos: "2", threes: "3", fours: "4", fives: "5", sixes: "6" };

const sayings: readonly Saying[] = [
  { when: /\b(insert|add|set|put) (a )?key(frame)?\b|\bkey here\b/, meant: ["key-here", "key-missing"] },
  { when: /\bkey (everything|all|whole)\b/, meant: ["key-missing", "key-here"] },
  { when: /\b(extrapolat|oscillat|bounce back|to and fro|ping.?pong)/, meant: ["run-on"] },
  {
    when: /\b(loop|cycle|repeat)\b.*\d/,
    meant: ["run-on"],
    fill: ([rounds], text) =>
      isNumber(rounds) ? { rounds: Math.round(rounds), ...(/travel/.test(text) ? { kind: "travel" } : {}) } : null,
  },
  { when: /\b(moving )?(hold|freeze)\b|\bhold pose\b/, meant: ["insert-hold"], fill: one("frames", Math.round) },
  {
    when: /\bon (\d+s?|ones|twos|threes|fours|fives|sixes)\b|\bframe step\b|\bstep(ped)? every\b/,
    meant: ["stepping"],
    fill(numbers, text) {
      const word = Object.keys(frameCount).find((name) => text.includes(name));
      const held = word ? frameCount[word] : isNumber(numbers[0]) ? String(Math.round(numbers[0])) : null;
      return held ? { show: "pattern", pattern: held } : null;
    },
  },
  {
    when: /\bcamera (jitter|stutter)|\bride(s)? (along )?with (the )?camera|\bstutters? against/,
    meant: ["stepping"],
    fill: () => ({ ride: true }),
  },
  { when: /^flip$/, meant: ["paste-mirrored", "mirror-pose", "scale-values"] },
  { when: /\b(flip|invert|negate) (the )?(curve|value)|\bupside down\b/, meant: ["scale-values"], fill: () => ({ factor: -100 }) },
  { when: /\bscale (the )?(curve|value|key)|\bexaggerate\b|\b(less|more) \d/, meant: ["scale-values"], fill: one("factor") },
  {
    when: /\b(rig|character|figure) (x ?\d|\d|.*\b(times|bigger|larger))|\bscale (the )?(character|rig|figure)\b/,
    meant: ["scale-rig"],
    fill: (numbers, text) => (/\bfive\b/.test(text) ? { factor: 5 } : one("factor")(numbers)),
  },
  { when: /\b(later|delay|late)( by)?\b|\boffset (the )?animation\b/, meant: ["stagger", "lag", "insert-frames"], fill: one("step") },
  { when: /\b(offset|shift|move) (all )?(the )?keys?\b/, meant: ["shift-values", "stagger", "insert-frames"] },
  {
    when: /\bslow(er|ed)?\b.*\d|\btwice as\b|\bhalf the time\b|\b(half|double) (the )?speed\b/,
    meant: ["scale-time", "time-warp", "stretch"],
    fill: lengthSaid,
  },
  { when: /\b(mirror|flip)(ed)? (to|at|paste)|\bpaste (pose )?(flipped|mirrored)\b/, meant: ["paste-mirrored", "mirror-pose"] },
  { when: /\bmirror (the )?(animation|motion|shot|range|walk)\b/, meant: ["mirror-range", "other-half", "mirror-pose"] },
  { when: /\bflip (the )?pose\b/, meant: ["mirror-pose", "paste-mirrored"] },
  { when: /\bappend mirrored|\bsecond half\b|\bother half\b/, meant: ["other-half"] },
  { when: /\bdial (it )?back\b|\bless of (this|the) pass\b|\bweight\b/, meant: ["key-weight"] },
  { when: /^(noise|shaky|vibrat\w*)$/, meant: ["tremor", "smooth", "despike"] },
  { when: /\bvibrate \d|\btremble \d/, meant: ["tremor"], fill: one("rotate") },
  { when: /\bjitter(y|s)?\b|\bjittery hand\b/, meant: ["smooth", "despike", "tune"] },
  { when: /\b(keep (the )?)?peaks?\b/, meant: ["simplify"] },
  { when: /\bsnappy\b|\bslow in\b|\bease (in|out)\b|\bslow out\b/, meant: ["set-tangents", "favour", "time-warp"] },
  { when: /\b(default|rest|bind|t).?pose\b|\bzero out\b/, meant: ["toward-rest"] },
  { when: /\bjump\b|\bland(s|ed|ing)? on\b|\bprojectile\b|\bhang time\b/, meant: ["fly"] },
  { when: /\b(feet|foot) slid|\bfoot.?slip|\bsticky feet\b|\bslid(e|ing) feet\b/, meant: ["plant", "tune"] },
  { when: /\bspring\b|\bstiffness\b|\bdrag on (the )?tail|\bfloppy\b/, meant: ["overlap", "follow-through"] },
  { when: /\bhold in (the )?hand|\bput it in (the )?hand|\battach\b|^parent$/, meant: ["switch-space", "follow"] },
  {
    when: /\blet go\b|\bdetach\b|\bunparent\b|\btake out (a |the )?control\b|\bout of (the|its) hierarchy\b/,
    meant: ["bake-down", "switch-space"],
    fill: (_, text) => (/take out|unparent|hierarchy/.test(text) ? { into: "" } : null),
  },
  { when: /\bsmart bake\b|\bbake (the )?fewest\b/, meant: ["bake-passes", "bake-down"], fill: () => ({ keys: "fewest" }) },
  { when: /\bbake out\b|\bsigned off\b/, meant: ["bake-passes", "keep-version"] },
  { when: /\bversions?\b|\bidea [a-z]\b|\biteration\b/, meant: ["keep-version", "go-compare"] },
  { when: /\block (the )?(camera|set|picked)\b/, meant: ["lock-picked"] },
  { when: /\bhide\b|\bin the way\b/, meant: ["isolate", "show-all"] },
  { when: /\bperspective\b|\bthrough (the )?camera\b/, meant: ["camera-shot", "camera-free"] },
  { when: /\bcopy timing\b|\btake timing\b/, meant: ["set-timing", "stepping"] },
  { when: /\bretarget\b|\bremap\b|\bput (the )?(mocap|capture) on\b/, meant: ["apply-action", "run-recipe"] },
  { when: /\b(ik fk|fk ik)\b|\bswitch ik\b/, meant: ["match-reach", "reach"] },
  { when: /\bik\b|\bknee direction\b|\bpole\b/, meant: ["reach", "match-reach"] },
  { when: /\bovershoot\b|\bsettle\b/, meant: ["follow-through", "overlap"] },
  { when: /\bcompare sides\b|\bsymmetry\b/, meant: ["go-rig", "mirror-pose"] },
  { when: /\bgimbal\b|\bflipping rotation|\b360 jump\b/, meant: ["untwist"] },
  { when: /\b(too even|even|uneven) spacing\b|\btoo even\b/, meant: ["show-spacing", "even-gaps", "tune"] },
  { when: /\bcentre of mass\b/, meant: ["fly", "tune"] },
];

/** What a text means as a whole, the likeliest first, with what its numbers say. */
export function meantBy(text: string): readonly { readonly id: string; readonly settings: Record<string, unknown> | null }[] {
  const numbers = [...text.matchAll(/-?\d+(?:\.\d+)?/g)].map(([digits]) => Number(digits));
  const found = new Map<string, Record<string, unknown> | null>();
  for (const { when, meant, fill } of sayings) {
    if (!when.test(text)) continue;
    const settings = fill?.(numbers, text) ?? null;
    meant.forEach((id, n) => {
      if (!found.has(id)) found.set(id, n === 0 ? settings : null);
    });
  }
  return [...found].map(([id, settings]) => ({ id, settings }));
}

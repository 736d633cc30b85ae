import {
  type ChannelKey,
  makePass,
  makePlayer,
  operations,
  type Player,
  recordedIn,
  type RecordSettings,
  sayError,
  type Scope,
  type Shot,
  type Take,
  withRoomFor,
} from "@kneader/core";
import { clock } from "../clock.ts";
import { currentDocument, useDocuments } from "../documents.ts";
import { tell } from "../notices.ts";
import { performSoon } from "../perform.ts";
import { currentScope, useSelection } from "../selection.ts";
import { useWork } from "../work/workStore.ts";
import { Performance as HandPerformance } from "./performance.ts";
import { useHand, useRecorder } from "./handState.ts";
import { listenToSticks } from "./sticks.ts";
import { beginCapture, endCapture, isConnected } from "./stream/streamHand.ts";

/** Beats of the count-in, and how long each is (milliseconds). */
const BEATS = 3;
const BEAT = 500;
const LIVE = "pass-live";

/** Values by channel: how far from the motion below. */
type Values = Record<ChannelKey, number>;
/** What a hand that is held wants at a frame of the motion below. */
type Wish = (below: Player, frame: number) => Values | null;

interface Session {
  readonly shot: Shot;
  /** Without the pass that is recorded anew. */
  readonly below: Shot;
  readonly player: Player;
  readonly start: number;
  readonly end: number;
  performance: HandPerformance;
  round: number;
  takes: Take[];
  how: RecordSettings["how"] | null;
  /** The card's settings as it began. */
  readonly told: RecordSettings;
  readonly scope: Scope;
  /** Where playback is at a time, as it began. */
  course: (time: number) => number;
  stop(): void;
}

let session: Session | null = null;
let held: { wish: Wish; last: number; pictures: number } | null = null;

/** Recording begins, or ends; what was recorded so far is kept. */
export function toggleRecording(): void {
  if (session || useRecorder.getState().state !== "rest") stopRecording();
  else startRecording();
}

let giveUp: (() => void) | null = null;

function stopRecording(): void {
  if (session) session.stop();
  else giveUp?.();
}

function startRecording(): void {
  const shot = currentDocument();
  const { open, current } = useDocuments.getState();
  if (!shot || (current !== null && open[current]?.readOnly)) return;
  if (useWork.getState().operation !== operations.record.id) useWork.getState().open(operations.record.id);
  const { range, layer } = useSelection.getState();
  const { countsIn } = useHand.getState();
  const start = Math.ceil(range?.start ?? (clock.frame >= shot.range.end ? shot.range.start : clock.frame));
  const end = Math.floor(range?.end ?? shot.range.end);
  if (useHand.getState().hand === "stream" && !isConnected()) {
    tell("No capture device is connected: connect it first, in the card.");
    return;
  }
  if (end - start < 1) {
    tell("There is no room to record between these frames.");
    return;
  }
  const again = shot.passes.find(({ id }) => id === layer);
  const below = recordedIn(again) ? { ...shot, passes: shot.passes.filter((pass) => pass !== again) } : shot;
  clock.stop();
  clock.set(start);
  useDocuments.getState().setPreview(null);
  const begin = () => {
    giveUp = null;
    record(shot, below, start, end);
  };
  if (!countsIn) {
    begin();
    return;
  }
  useRecorder.setState({ state: "counting", beats: BEATS });
  const timer = setInterval(() => {
    const { beats } = useRecorder.getState();
    if (beats > 1) return useRecorder.setState({ beats: beats - 1 });
    clearInterval(timer);
    begin();
  }, BEAT);
  giveUp = () => {
    giveUp = null;
    clearInterval(timer);
    rest();
  };
}

function rest(): void {
  session = null;
  held = null;
  useDocuments.getState().setLive(null);
  useRecorder.setState({ state: "rest", beats: 0, round: 1 });
}

function record(shot: Shot, below: Shot, start: number, end: number): void {
  const { speed, hand } = useHand.getState();
  const isStream = hand === "stream";
  const rounds = useHand.getState().rounds && !isStream;
  const before = { loop: clock.loop, speed: clock.speed };
  Object.assign(clock, { loop: rounds, speed: speed / 100, span: { start, end } });
  const unheard = listenToSticks((values) => hear(() => values));
  // These keys end it, whatever they mean elsewhere; what was recorded is kept.
  const key = (event: KeyboardEvent) => {
    if (event.key !== "Escape" && event.code !== "Space") return;
    event.preventDefault();
    event.stopPropagation();
    own.stop();
  };
  window.addEventListener("keydown", key, true);
  let next = 0;
  let stopped = false;
  const own: Session = {
    shot,
    below,
    player: makePlayer(below),
    start,
    end,
    performance: new HandPerformance(start),
    round: 0,
    takes: [],
    how: null,
    told: useWork.getState().settings as unknown as RecordSettings,
    scope: currentScope(),
    course: () => start,
    stop() {
      if (stopped) return;
      stopped = true;
      performance.mark("recording ended");
      cancelAnimationFrame(next);
      unheard();
      window.removeEventListener("keydown", key, true);
      if (isStream) endStream(own);
      else endRound(own, Math.min(end, clock.frame));
      clock.stop();
      Object.assign(clock, { ...before, span: null });
      rest();
      void keep(own);
    },
  };
  session = own;
  useRecorder.setState({ state: "recording", beats: 0, round: 1 });
  if (!isStream) showLive(own);
  clock.toggle();
  own.course = clock.course();
  if (isStream) beginCapture();
  performance.mark("recording began");
  const tick = () => {
    next = requestAnimationFrame(tick);
    if (!clock.playing) return own.stop();
    const now = performance.now();
    place(own, now);
    // A hand that keeps still is heard too: the body moves under it. After one long picture it may only not have been heard yet.
    if (held && ++held.pictures > 2 && now - held.last > STILL) sample(own, now);
  };
  next = requestAnimationFrame(tick);
}

/** A hand that was not heard for so long (milliseconds) keeps still. */
const STILL = 40;

/** The frame within its round at a time; a new round makes a new take. */
function place(own: Session, time: number): number {
  const length = own.end - own.start + 1;
  const gone = Math.max(0, clock.frameAt(time) - own.start);
  const round = clock.loop ? Math.max(0, Math.floor(gone / length)) : 0;
  if (round > own.round) {
    endRound(own, own.end);
    own.performance = new HandPerformance(own.start);
    own.round = round;
    useRecorder.setState({ round: round + 1 });
    showLive(own);
  }
  return Math.min(own.end, own.start + gone - round * length);
}

/** What the hand wants, heard at a time (milliseconds); without a wish it let go. */
export function hear(wish: Wish | null, time = performance.now()): void {
  if (!wish) {
    held = null;
    return;
  }
  held = { wish, last: time, pictures: 0 };
  if (session) sample(session, time);
}

function sample(own: Session, time: number): void {
  if (!held) return;
  const frame = place(own, time);
  try {
    const values = held.wish(own.player, frame);
    if (values && own.performance.put(frame, values, performance.now() - time)) showLive(own);
  } catch (error) {
    held = null;
    tell(sayError(error));
  }
}

/** Show the motion below with what is recorded on top, read as it comes in. */
function showLive(own: Session): void {
  const { performance: heard } = own;
  const keys = heard.keys;
  const pass = makePass(LIVE, "", "adds");
  const shot = withRoomFor({ ...own.below, passes: [...own.below.passes, pass] }, { layer: LIVE, keys });
  const live = { layer: LIVE, keys, read: (n: number, frame: number) => heard.valueAt(keys[n], frame) };
  useDocuments.getState().setLive(makePlayer(shot, { live }));
}

/** The id and the name of the next take. */
function nextTake(own: Session): [string, string] {
  const known = own.told.recorded.takes.length;
  return [`take-${Date.now().toString(36)}-${own.takes.length}`, `Take ${known + own.takes.length + 1}`];
}

/** What came from a device, as a take; it is in place of what is below. */
function endStream(own: Session): void {
  const [id, name] = nextTake(own);
  const made = endCapture(own.below, id, name, own.end, own.course);
  if (!made) {
    tell("Nothing came from the device while it was recorded.");
    return;
  }
  own.takes.push(made.take);
  own.how = "replaces";
  useRecorder.setState(({ said }) => ({ said: { ...said, [id]: made.said } }));
}

function endRound(own: Session, end: number): void {
  const [id, name] = nextTake(own);
  const take = own.performance.take(id, name, end);
  if (!take) return;
  own.takes.push(take);
  const filled = own.performance.filled();
  const said = `${filled === 0 ? "every frame heard" : `${filled} ${filled === 1 ? "frame" : "frames"} filled`}, at most ${Math.round(own.performance.latest)} ms late`;
  useRecorder.setState(({ said: before }) => ({ said: { ...before, [id]: said } }));
}

/** The takes go into a pass at once, so that nothing is lost; the card stays open to simplify and join them. */
async function keep(own: Session): Promise<void> {
  if (own.takes.length === 0) {
    if (useHand.getState().hand !== "stream") tell("Nothing was recorded: nothing was dragged in the view while it played.");
    return;
  }
  if (currentDocument() !== own.shot) return tell("The shot was changed while it was recorded, so the takes were not kept.");
  const { told } = own;
  const last = own.takes[own.takes.length - 1];
  const recorded = { takes: [...told.recorded.takes, ...own.takes], chosen: last.id, joins: [] };
  const wanted = { ...told, recorded, how: own.how ?? told.how };
  try {
    const before = new Set(own.shot.passes.map(({ id }) => id));
    await performSoon(operations.record, wanted, own.scope);
    const made = currentDocument()?.passes.find(({ id }) => !before.has(id));
    if (made) useSelection.getState().setLayer(made.id);
    useWork.getState().open(operations.record.id, { ...wanted });
  } catch (error) {
    tell(sayError(error));
    useWork.getState().set({ ...wanted });
  }
}

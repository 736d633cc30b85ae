import { type CaptureFrame, type HeaderMessage, keysOfHeader, readText, Receiver, sayError } from "@kneader/core";
import { useStream } from "./streamState.ts";

/** A lost line is looked for again so often (milliseconds). */
const AGAIN = 300;
/** What is heard is said so often (milliseconds). */
const SAID = 500;

/** A line to a capture device: what comes in is kept in order, and a line that is lost is looked for until it is closed here. */
export class CaptureLine {
  header: HeaderMessage | null = null;
  receiver: Receiver | null = null;
  /** The newest frame, for who shows it. */
  onFrame: (frame: CaptureFrame) => void = () => undefined;
  private readonly session = Math.random().toString(36).slice(2);
  private readonly seed = Math.floor(Math.random() * 1e9);
  private socket: WebSocket | null = null;
  private isWanted = true;
  private again: ReturnType<typeof setTimeout> | undefined;
  private lastSaid = 0;
  private losses = 0;
  private refused = 0;
  private refusal = "";

  open(): void {
    const address = new URL("/api/capture", window.location.href);
    address.protocol = address.protocol.replace("http", "ws");
    useStream.setState({ line: this.header ? "lost" : "connecting", problem: "" });
    const socket = new WebSocket(address);
    this.socket = socket;
    socket.binaryType = "arraybuffer";
    socket.onopen = () => this.ask();
    socket.onmessage = ({ data }) => {
      try {
        if (typeof data === "string") this.readWords(data);
        else this.readFrame(new Uint8Array(data as ArrayBuffer));
      } catch (error) {
        // What cannot be used is left out; what came before and comes after is not touched by it.
        this.refused++;
        this.refusal = sayError(error);
      }
    };
    socket.onclose = () => {
      if (!this.isWanted || this.socket !== socket) return;
      if (this.header) this.losses++;
      useStream.setState({ line: this.header ? "lost" : "connecting", problem: this.header ? "" : "No device answers at this address." });
      this.again = setTimeout(() => this.open(), AGAIN);
    };
  }

  close(): void {
    this.isWanted = false;
    clearTimeout(this.again);
    this.socket?.close();
    useStream.setState({ line: "none", said: "", problem: "" });
  }

  /** Lose the line, as if a cable was pulled: it is looked for again. */
  lose(): void {
    this.socket?.close();
  }

  private ask(): void {
    const { performance, rate, noise, drift, dropped, late, doubled, swapped } = useStream.getState();
    this.socket?.send(
      // Nobody performs the same twice: each line has noise of its own, which is the same when it is found again.
      JSON.stringify({
        type: "start",
        session: this.session,
        seed: this.seed,
        performance,
        rate,
        noise,
        drift,
        dropped,
        late,
        doubled,
        swapped,
      }),
    );
  }

  private readWords(text: string): void {
    const message = readText(text);
    if (message.type === "problem") {
      useStream.setState({ problem: message.detail });
      return;
    }
    // Found again, it goes on with what it was; another performer begins anew.
    if (JSON.stringify(message) !== JSON.stringify(this.header)) {
      this.header = message;
      this.receiver = new Receiver(keysOfHeader(message).length);
    }
    useStream.setState({ line: "here", problem: "" });
  }

  private readFrame(bytes: Uint8Array): void {
    const frame = this.receiver?.accept(bytes, performance.now() / 1000);
    if (!frame || !this.receiver) return;
    if (frame === this.receiver.latest()) this.onFrame(frame);
    const now = performance.now();
    if (now - this.lastSaid < SAID) return;
    this.lastSaid = now;
    const { again } = this.receiver.counts;
    const parts = [`${this.header?.name}, ${this.header?.controls.length} controls at ${this.header?.rate} Hz`];
    if (again > 0) parts.push(`${again} twice`);
    if (this.losses > 0) parts.push(`lost ${this.losses === 1 ? "once" : `${this.losses} times`}`);
    if (this.refused > 0) parts.push(`${this.refused} refused: ${this.refusal}`);
    useStream.setState({ said: parts.join(", ") });
  }
}

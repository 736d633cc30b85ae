import { MessageChannel } from "node:worker_threads";
import * as Comlink from "comlink";

/** A worker in this thread that does what `api` says (null: it cannot be loaded), and a way to raise its errors. */
export function threadWorker(api: object | null): { worker: Worker; raise: (event: object) => void; isEnded: () => boolean } {
  const { port1, port2 } = new MessageChannel();
  const listeners = new Map<string, (event: object) => void>();
  let ended = false;
  if (api) Comlink.expose(api, nodeEndpoint(port2));
  const end = nodeEndpoint(port1);
  const worker = {
    ...end,
    addEventListener: (type: string, listener: (event: object) => void) => {
      if (type === "message") end.addEventListener(type, listener as never);
      else listeners.set(type, listener);
    },
    removeEventListener: (type: string, listener: (event: object) => void) => {
      if (type === "message") end.removeEventListener(type, listener as never);
      else listeners.delete(type);
    },
    terminate: () => {
      ended = true;
      port1.close();
      port2.close();
    },
  };
  const raise = (event: object) => listeners.get("error")?.({ preventDefault: () => undefined, ...event });
  return { worker: worker as unknown as Worker, raise, isEnded: () => ended };
}

/** A port of Node as Comlink wants one. */
function nodeEndpoint(port: import("node:worker_threads").MessagePort): Comlink.Endpoint {
  const known = new WeakMap<object, (data: unknown) => void>();
  return {
    postMessage: (message, transfer) => port.postMessage(message, transfer as never),
    addEventListener: (_type, listener) => {
      const heard = (data: unknown) => (listener as (event: object) => void)({ data });
      known.set(listener, heard);
      port.on("message", heard);
    },
    removeEventListener: (_type, listener) => {
      const heard = known.get(listener);
      if (heard) port.off("message", heard);
    },
    start: () => port.start(),
  };
}

// Progress goes over a channel of its own, which in Node has another face; it is not what is tried here.
Comlink.transferHandlers.set("proxy", {
  canHandle: (value): value is object =>
    typeof value === "function" || (typeof value === "object" && value !== null && Comlink.proxyMarker in value),
  serialize: () => [null, []],
  deserialize: () => () => undefined,
} as Comlink.TransferHandler<object, null>);

const bell = new MessageChannel();
const waiting: (() => void)[] = [];
bell.port1.onmessage = () => waiting.shift()?.();

/** Let messages in that have come meanwhile. By a message of its own: a timer would wait for some milliseconds each time. */
export const letMessagesIn = (): Promise<void> =>
  new Promise((resolve) => {
    waiting.push(resolve);
    bell.port2.postMessage(null);
  });

/** So often long work lets messages in, a cancel among them (milliseconds). */
export const BREATH = 10;

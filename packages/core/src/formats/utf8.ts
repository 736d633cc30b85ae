/** The text coders every browser and Node has; typed here because the core knows no DOM. */
const coders = globalThis as unknown as {
  TextEncoder: new () => { encode(text: string): Uint8Array };
  TextDecoder: new () => { decode(bytes: Uint8Array): string };
};

export function encodeText(text: string): Uint8Array {
  return new coders.TextEncoder().encode(text);
}

export function decodeText(bytes: Uint8Array): string {
  return new coders.TextDecoder().decode(bytes);
}

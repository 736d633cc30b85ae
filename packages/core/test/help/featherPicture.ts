import { crc32, deflateSync } from "node:zlib";

/** Feathers: light and dark stripes, as a PNG (ISO/IEC 15948). */
export function featherPicture(): Uint8Array<ArrayBuffer> {
  const [wide, high] = [4, 16];
  const rows = Array.from({ length: high }, (_, y) => [
    0,
    ...Array.from({ length: wide }, (_, x) => (y % 4 === 3 && x % 2 ? [150, 162, 174] : [206, 214, 222])).flat(),
  ]);
  const chunk = (kind: string, data: Uint8Array) => {
    const body = Buffer.concat([Buffer.from(kind), data]);
    const out = Buffer.alloc(body.length + 8);
    out.writeUInt32BE(data.length, 0);
    body.copy(out, 4);
    out.writeUInt32BE(crc32(body), body.length + 4);
    return out;
  };
  const head = Buffer.alloc(13);
  head.writeUInt32BE(wide, 0);
  head.writeUInt32BE(high, 4);
  head.set([8, 2, 0, 0, 0], 8);
  const signature = Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10]);
  const data = deflateSync(Uint8Array.from(rows.flat()));
  return Uint8Array.from(Buffer.concat([signature, chunk("IHDR", head), chunk("IDAT", data), chunk("IEND", new Uint8Array())]));
}

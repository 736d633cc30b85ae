/** Reads numbers and words straight from bytes, without making strings on the way. */
export interface ByteReader {
  readonly bytes: Uint8Array;
  /** The next byte to read. */
  at: number;
}

const MINUS = 45;
const PLUS = 43;
const DOT = 46;

/** Powers of ten that a double holds exactly. */
const tens = Float64Array.from({ length: 23 }, (_, i) => Number(`1e${i}`));

export function isSpace(byte: number): boolean {
  return byte === 32 || byte === 9 || byte === 13 || byte === 10;
}

export function skipSpace(reader: ByteReader): void {
  const { bytes } = reader;
  let at = reader.at;
  while (at < bytes.length && isSpace(bytes[at])) at++;
  reader.at = at;
}

/** The next word up to white space; "" at the end. */
export function readWord(reader: ByteReader): string {
  skipSpace(reader);
  const { bytes } = reader;
  const start = reader.at;
  let at = start;
  while (at < bytes.length && !isSpace(bytes[at])) at++;
  reader.at = at;
  return ascii(bytes, start, Math.min(at, start + LONGEST_WORD));
}

/** More letters than this are no word of a file that can be read. */
export const LONGEST_WORD = 4096;

export function ascii(bytes: Uint8Array, start: number, end: number): string {
  let text = "";
  for (let i = start; i < end; i++) text += String.fromCharCode(bytes[i]);
  return text;
}

/**
 * The number that starts at `reader.at` (no white space before it), bit for bit what `Number()` gives:
 * up to 15 digits and a power of ten up to 22 divide exactly (Clinger 1990); anything longer is handed
 * to `Number()`. NaN when it is no number; the reader then stands where it stood.
 */
export function readNumber(reader: ByteReader): number {
  const { bytes } = reader;
  const start = reader.at;
  let at = start;
  let byte = bytes[at];
  const negative = byte === MINUS;
  if (negative || byte === PLUS) byte = bytes[++at];
  let mantissa = 0;
  let digits = 0;
  let decimals = 0;
  const firstDigit = at;
  while (byte >= 48 && byte <= 57) {
    mantissa = mantissa * 10 + (byte - 48);
    byte = bytes[++at];
  }
  digits = at - firstDigit;
  if (byte === DOT) {
    const point = at;
    byte = bytes[++at];
    while (byte >= 48 && byte <= 57) {
      mantissa = mantissa * 10 + (byte - 48);
      byte = bytes[++at];
    }
    decimals = at - point - 1;
    digits += decimals;
  }
  if (digits === 0) return Number.NaN;
  if (byte !== undefined && !isSpace(byte)) return readSlowly(reader, start);
  if (digits > 15 || decimals > 22) return readSlowly(reader, start);
  reader.at = at;
  const value = decimals === 0 ? mantissa : mantissa / tens[decimals];
  return negative ? -value : value;
}

function readSlowly(reader: ByteReader, start: number): number {
  reader.at = start;
  const word = readWord(reader);
  const value = /^[-+]?[\d.]+(e[-+]?\d+)?$/i.test(word) ? Number(word) : Number.NaN;
  if (!Number.isFinite(value)) {
    reader.at = start;
    return Number.NaN;
  }
  return value;
}

/**
 * Read numbers parted by blanks, one into each column at `row`, up to the first that is missing or wrong; returns how many
 * were read. Does not go past the end of the line. `view` is of the same bytes.
 */
export function readRow(reader: ByteReader, view: DataView, columns: readonly Float64Array[], row: number): number {
  const { bytes } = reader;
  const lastFour = bytes.length - 3;
  let at = reader.at;
  for (let n = 0; n < columns.length; n++) {
    let byte = bytes[at];
    while (byte === 32 || byte === 9) byte = bytes[++at];
    const start = at;
    let sign = 1;
    if (byte === MINUS) {
      sign = -1;
      byte = bytes[++at];
    }
    // Up to nine digits are gathered as a small integer, which is what makes this quick.
    let whole = 0;
    const firstDigit = at;
    while (byte >= 48 && byte <= 57) {
      whole = (whole * 10 + byte - 48) | 0;
      byte = bytes[++at];
    }
    let digits = at - firstDigit;
    let decimals = 0;
    if (byte === DOT) {
      const point = at;
      if (++at < lastFour) {
        // Most numbers have four decimals or more: these four at once.
        const four = view.getInt32(at, true) - 0x30303030;
        if (((four | (four + 0x76767676)) & 0x80808080) === 0) {
          whole = (whole * 10000 + ((Math.imul((Math.imul(four, 2561) >>> 8) & 0x00ff00ff, 6553601) >>> 16) & 0xffff)) | 0;
          at += 4;
        }
      }
      byte = bytes[at];
      while (byte >= 48 && byte <= 57) {
        whole = (whole * 10 + byte - 48) | 0;
        byte = bytes[++at];
      }
      decimals = at - point - 1;
      digits += decimals;
    }
    if (digits > 0 && digits <= 9 && (byte <= 32 || byte === undefined)) {
      columns[n][row] = (sign * whole) / tens[decimals];
      continue;
    }
    reader.at = start;
    const value = readNumber(reader);
    if (Number.isNaN(value)) return n;
    columns[n][row] = value;
    at = reader.at;
  }
  reader.at = at;
  return columns.length;
}

/** Line number (from 1) of a byte. */
export function lineOf(bytes: Uint8Array, at: number): number {
  let line = 1;
  for (let i = 0; i < at && i < bytes.length; i++) if (bytes[i] === 10) line++;
  return line;
}

const FONT = "11px 'Spline Sans Mono', monospace";
const CHARACTERS = "0123456789-.e+";
/** Size of one character, CSS pixels; all are equally wide. */
const WIDTH = 6.6;
const HEIGHT = 14;

const sheets = new Map<string, HTMLCanvasElement>();

/** The characters of numbers drawn once, side by side, in one colour on one ground. */
function sheetOf(colour: string, ground: string, ratio: number): HTMLCanvasElement {
  const name = `${colour} ${ground} ${ratio}`;
  const known = sheets.get(name);
  if (known) return known;
  const sheet = document.createElement("canvas");
  sheet.width = Math.ceil(CHARACTERS.length * WIDTH * ratio);
  sheet.height = HEIGHT * ratio;
  const context = sheet.getContext("2d");
  if (context) {
    context.scale(ratio, ratio);
    context.fillStyle = ground;
    context.fillRect(0, 0, sheet.width, HEIGHT);
    context.fillStyle = colour;
    context.font = FONT;
    context.textBaseline = "middle";
    [...CHARACTERS].forEach((character, i) => {
      context.fillText(character, i * WIDTH, HEIGHT / 2);
    });
  }
  // Before the font has arrived another one stands in, which is not to be kept.
  if (document.fonts.check(FONT)) sheets.set(name, sheet);
  return sheet;
}

/**
 * Draw a number that ends at x and is centred on y. Characters are copied from a sheet: writing each text
 * anew, while the axis moves, costs more than all the curves.
 */
export function drawNumber(context: CanvasRenderingContext2D, value: number, x: number, y: number, colour: string, ground: string): void {
  const text = String(Math.round(value * 1e6) / 1e6);
  const ratio = window.devicePixelRatio || 1;
  const sheet = sheetOf(colour, ground, ratio);
  const left = Math.round((x - text.length * WIDTH) * ratio) / ratio;
  const top = Math.round((y - HEIGHT / 2) * ratio) / ratio;
  for (let i = 0; i < text.length; i++) {
    const at = CHARACTERS.indexOf(text[i]);
    context.drawImage(sheet, at * WIDTH * ratio, 0, WIDTH * ratio, HEIGHT * ratio, left + i * WIDTH, top, WIDTH, HEIGHT);
  }
}

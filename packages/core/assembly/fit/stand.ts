import { invert } from "./invert";
import { SpanProgram } from "./spanProgram";

const matrix = new StaticArray<f64>(16);
const bounds = new StaticArray<f64>(4);

/** Let a programme stand where its rows are met, from nothing else; false where there is no such vertex. */
export function stand(program: SpanProgram): bool {
  program.notePlaces();
  for (let i = 0; i < 4; i++) {
    program.look(unchecked(program.rows[i]));
    unchecked((bounds[i] = program.writeRow(matrix, 4 * i)));
  }
  if (!invert(program.inverse, matrix)) return false;
  for (let c = 0; c < 4; c++) {
    let sum: f64 = 0;
    for (let i = 0; i < 4; i++) sum += unchecked(bounds[i]) * unchecked(program.inverse[4 * c + i]);
    unchecked((program.x[c] = sum));
  }
  return true;
}

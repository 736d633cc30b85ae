import type { Row } from "./measure.ts";
export async function benchBrowser(): Promise<Row[]> {
  return [];
}

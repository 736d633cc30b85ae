import { besideIn, type Placed } from "../src/shots/besideIn.ts";

const file = (path: string, zip = ""): Placed & { readonly path: string } => ({
  path,
  zip,
  name: path.split("/").at(-1) as string,
  folder: path.split("/").slice(0, -1).join("/"),
});
const text = (bytes: Uint8Array | null) => (bytes === null ? null : new TextDecoder().decode(bytes));

test("two characters in two folders, or in two zips, have their own data under the same name", () => {
  const lot = [
    file("otter/body.bin"),
    file("heron/body.bin"),
    file("heron/maps/a.png"),
    file("skin/fur.png"),
    file("otter/body.bin", "1 a.zip"),
  ];
  const beside = besideIn(lot, ({ path, zip }) => new TextEncoder().encode(`${zip}:${path}`));
  const find = (from: Placed, uri: string) => text(beside(from)(uri));
  expect(find(file("otter/otter.gltf"), "body.bin")).toBe(":otter/body.bin");
  expect(find(file("heron/heron.gltf"), "./body.bin")).toBe(":heron/body.bin");
  expect(find(file("otter/otter.gltf", "1 a.zip"), "body.bin")).toBe("1 a.zip:otter/body.bin");
  // Below, beside and above, within the lot.
  expect(find(file("heron/heron.gltf"), "maps/a.png")).toBe(":heron/maps/a.png");
  expect(find(file("heron/heron.gltf"), "../skin/fur.png")).toBe(":skin/fur.png");
  expect(find(file("heron/heron.gltf"), "..%2Fskin%2ffur.png")).toBe(":skin/fur.png");
  // Not what only has the same name elsewhere, nor what leads out.
  expect(find(file("crate/crate.gltf"), "body.bin")).toBeNull();
  expect(find(file("otter/otter.gltf"), "a.png")).toBeNull();
  expect(find(file("otter/otter.gltf"), "../../otter/body.bin")).toBeNull();
});

test("files that came without folders are found by their names, and an address that is wrongly written is no crash", () => {
  const lot = [file("body.bin"), file("sk%E0%A4%A.png"), file("a b.png")];
  const beside = besideIn(lot, ({ path }) => new TextEncoder().encode(path));
  const find = (uri: string) => text(beside(file("otter.gltf"))(uri));
  expect(find("body.bin")).toBe("body.bin");
  expect(find("data/body.bin")).toBe("body.bin");
  expect(find("a%20b.png")).toBe("a b.png");
  expect(find("sk%E0%A4%A.png")).toBe("sk%E0%A4%A.png");
  expect(find("gone.bin")).toBeNull();
});

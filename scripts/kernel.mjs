// Inner loops written in AssemblyScript, compiled to WebAssembly and put into modules as text.
import { createHash } from "node:crypto";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const root = dirname(dirname(fileURLToPath(import.meta.url)));
/** Each: a folder of sources with an `index.ts`, and the module and constant that its code becomes. */
const kernels = [
  {
    of: "keyed curves",
    name: "windowKernelCode",
    target: "packages/core/src/curve/windowKernelCode.ts",
    folder: "packages/core/assembly/window",
  },
  {
    of: "weighted handles",
    name: "handlesKernelCode",
    target: "packages/core/src/curve/handlesKernelCode.ts",
    folder: "packages/core/assembly/handles",
  },
  { of: "fits", name: "kernelCode", target: "packages/core/src/curve/fit/unbroken/kernelCode.ts", folder: "packages/core/assembly/fit" },
  { of: "playing", name: "poseKernelCode", target: "packages/core/src/evaluate/poseKernelCode.ts", folder: "packages/core/assembly/pose" },
];

/** Compile the kernels, save those that were made from these very sources by this very compiler. */
export async function buildKernels() {
  for (const kernel of kernels) await build(kernel);
}

async function build({ of, name, target, folder }) {
  const sources = join(root, folder);
  const hash = createHash("sha256").update(readFileSync(fileURLToPath(import.meta.url)));
  hash.update(JSON.parse(readFileSync(join(root, "package.json"), "utf8")).devDependencies.assemblyscript);
  for (const file of readdirSync(sources).sort()) hash.update(file).update(readFileSync(join(sources, file)));
  const made = `// Made by scripts/kernel.mjs from ${hash.digest("hex")}`;
  const module = join(root, target);
  if (existsSync(module) && readFileSync(module, "utf8").startsWith(`${made}\n`)) return;
  console.log(`Compiling the inner loops of ${of} …`);
  const { default: asc } = await import("assemblyscript/asc");
  const scratch = mkdtempSync(join(tmpdir(), "kneader-kernel-"));
  try {
    const binary = join(scratch, "kernel.wasm");
    const options = ["--runtime", "stub", "--enable", "simd", "-O3", "--noAssert", "--use", "abort="];
    const { error, stderr } = await asc.main([join(sources, "index.ts"), "--outFile", binary, ...options]);
    if (error) throw new Error(`The inner loops of ${of} could not be compiled: ${error.message}\n${stderr.toString()}`);
    const text = readFileSync(binary).toString("base64");
    writeFileSync(module, `${made}\n\nexport const ${name} =\n  "${text}";\n`);
  } finally {
    rmSync(scratch, { recursive: true, force: true });
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildKernels();

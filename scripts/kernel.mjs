// The inner loops of fits, written in AssemblyScript, compiled to WebAssembly and put into a module as text.
import { createHash } from "node:crypto";
import { existsSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";

const root = dirname(dirname(fileURLToPath(import.meta.url)));
const sources = join(root, "packages/core/assembly");
const target = join(root, "packages/core/src/curve/fit/unbroken/kernelCode.ts");

/** Compile the kernel unless it was made from these very sources by this very compiler. */
export async function buildKernel() {
  const hash = createHash("sha256").update(readFileSync(fileURLToPath(import.meta.url)));
  hash.update(JSON.parse(readFileSync(join(root, "package.json"), "utf8")).devDependencies.assemblyscript);
  for (const name of readdirSync(sources).sort()) hash.update(name).update(readFileSync(join(sources, name)));
  const made = `// Made by scripts/kernel.mjs from ${hash.digest("hex")}`;
  if (existsSync(target) && readFileSync(target, "utf8").startsWith(`${made}\n`)) return;
  console.log("Compiling the inner loops of fits …");
  const { default: asc } = await import("assemblyscript/asc");
  const folder = mkdtempSync(join(tmpdir(), "kneader-kernel-"));
  try {
    const binary = join(folder, "kernel.wasm");
    const options = ["--runtime", "stub", "--enable", "simd", "-O3", "--noAssert", "--use", "abort="];
    const { error, stderr } = await asc.main([join(sources, "index.ts"), "--outFile", binary, ...options]);
    if (error) throw new Error(`The inner loops of fits could not be compiled: ${error.message}\n${stderr.toString()}`);
    const text = readFileSync(binary).toString("base64");
    writeFileSync(target, `${made}\n\nexport const kernelCode =\n  "${text}";\n`);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await buildKernel();

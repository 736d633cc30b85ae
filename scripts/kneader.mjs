// npm run kneader: the command line, built anew where what it is made of has changed.
import { buildCommandLine } from "./setup.mjs";

buildCommandLine();
await import("../apps/cli/dist/kneader.js");

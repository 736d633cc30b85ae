// Before unit tests: the command line is tried as it is installed, so it is built.
import { buildCommandLine } from "./setup.mjs";

export default function setup() {
  buildCommandLine();
}

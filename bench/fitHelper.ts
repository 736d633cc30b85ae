import { parentPort } from "node:worker_threads";
import * as Comlink from "comlink";
import nodeEndpoint from "comlink/dist/esm/node-adapter";
import { fitService } from "../apps/web/src/workers/fitService.ts";

// A helper for fits as the application has them, on a thread.
if (parentPort) Comlink.expose(fitService, nodeEndpoint(parentPort));

import * as Comlink from "comlink";
import { fitService } from "./fitService.ts";

Comlink.expose(fitService);

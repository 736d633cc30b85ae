import base from "./playwright.config.ts";

/** npm run screenshots: the pictures of the main views in docs/screenshots. */
export default { ...base, testMatch: "*.screens.ts", use: { ...base.use, deviceScaleFactor: 1 } };

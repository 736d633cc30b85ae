/** Debian's Chromium without a screen: the scene is drawn in software, nothing is fetched from elsewhere. */
export const chromium = {
  viewport: { width: 1280, height: 800 },
  // Half as fine: what is drawn in software costs a quarter, and nothing is looked at by the pixel.
  deviceScaleFactor: 0.5,
  acceptDownloads: true,
  // Dialogs and lists come and go at once, as for whoever has told their system so.
  contextOptions: { reducedMotion: "reduce" as const },
  launchOptions: {
    executablePath: process.env.CHROMIUM ?? "/usr/bin/chromium",
    args: [
      "--no-sandbox",
      "--use-angle=swiftshader-webgl",
      "--enable-unsafe-swiftshader",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  },
};

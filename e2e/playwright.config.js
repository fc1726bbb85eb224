import { defineConfig } from "@playwright/test";

const address = "http://127.0.0.1:8117";

export default defineConfig({
  testDir: ".",
  workers: 1,
  fullyParallel: false,
  forbidOnly: true,
  reporter: "line",
  outputDir: "test-results",
  use: {
    baseURL: address,
    viewport: { width: 1280, height: 800 },
    launchOptions: {
      executablePath: "/usr/bin/chromium",
      args: [
        "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
        "--disable-background-networking", "--disable-component-update", "--disable-sync",
      ],
    },
  },
  webServer: {
    command: "../bin/zephyrfield demo --listen 127.0.0.1:8117",
    url: address,
    reuseExistingServer: false,
    gracefulShutdown: { signal: "SIGTERM", timeout: 5000 },
  },
});

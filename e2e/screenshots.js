// Takes the pictures of docs/screenshots from the demo: one of each main view.
import { spawn } from "node:child_process";
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";

const address = "http://127.0.0.1:8317";
const views = [
  ["ground", "/?bed=2", 1280, 800],
  ["dose", "/beds/2/dose?target=6.4", 1280, 800],
  ["day-sheet", "/sheet", 390, 844],
  ["bench", "/bench?bed=2", 1280, 800],
  ["record", "/beds/7", 1280, 800],
  ["ground-past", "/?bed=7&on=2024-11-10&look=k", 1280, 800],
  ["place", "/place", 1280, 800],
  ["bed-form", "/beds/new?name=Bean+end&texture_by=jar&shape=outline&corners=2+16%0A8+16%0A9+18%0A2.5+18.5", 1280, 1000],
  ["crop-library", "/crops?crop=ranunculus", 1280, 800],
  ["paths-and-walls", "/marks?corners=1.2+16%0A12+16%0A12+17.5", 1280, 800],
  ["safe-keeping", "/keep", 1280, 800],
];

const server = spawn("bin/zephyrfield", ["demo", "--listen", "127.0.0.1:8317"]);
try {
  for (let i = 0; i < 100; i++) {
    if (await fetch(address).then((r) => r.ok, () => false)) break;
    await new Promise((done) => setTimeout(done, 100));
  }
  const browser = await chromium.launch(config.use.launchOptions);
  for (const [name, path, width, height] of views) {
    const page = await browser.newPage({ viewport: { width, height } });
    await page.goto(address + path);
    await page.evaluate(() => document.fonts.ready);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
    await page.close();
  }
  await browser.close();
} finally {
  server.kill("SIGTERM");
}

// Measures frame times of panning and zooming the plan of 400 beds, and of scrolling their list.
// Reported, never asserted.
import { spawn } from "node:child_process";
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";

const address = "http://127.0.0.1:8418";
const demo = spawn("bin/zephyrfield", ["demo", "--listen", "127.0.0.1:8418"], { stdio: ["ignore", "pipe", "inherit"] });
await new Promise((ready) => demo.stdout.once("data", ready));
const browser = await chromium.launch(config.use.launchOptions);
try {
  for (const [width, height] of [
    [1280, 800],
    [390, 844],
  ]) {
    const page = await browser.newPage({ viewport: { width, height } });
    await page.goto(`${address}/beds`);
    if (width === 1280) {
      await page
        .locator("#table-text")
        .fill(
          "name,length_m,width_m,crop,part\n" +
            Array.from({ length: 400 }, (_, i) => `East ${i + 1},0.75,15,tomato,East field\n`).join(""),
        );
      await page.getByRole("button", { name: "Add these beds" }).click();
      await page.waitForURL(/beds/);
    }
    const record = () =>
      page.evaluate(() => {
        window.framesRecorded = [];
        let last = performance.now();
        const run = (window.frameRun = (window.frameRun || 0) + 1);
        const tick = (now) => {
          if (window.frameRun !== run) return;
          window.framesRecorded.push(now - last);
          last = now;
          requestAnimationFrame(tick);
        };
        requestAnimationFrame(tick);
      });
    const tell = async (name) => {
      const s = (await page.evaluate(() => window.framesRecorded)).sort((a, b) => a - b);
      console.log(
        `${width} wide, ${name}: median ${s[Math.floor(s.length / 2)].toFixed(1)} ms, 95 % under ` +
          `${s[Math.floor(s.length * 0.95)].toFixed(1)}, longest ${s[s.length - 1].toFixed(1)} of ${s.length} frames`,
      );
    };
    await page.goto(`${address}/?part=East+field`);
    await page.waitForTimeout(500);
    console.log(`${width} wide: ${await page.locator(".plan a").count()} beds on the plan`);
    const box = await page.locator(".plan").boundingBox();
    const [x, y] = [box.x + box.width / 2, box.y + Math.min(box.height, height - box.y) / 2];
    await page.mouse.move(x, y);
    await record();
    for (let i = 0; i < 12; i += 1) {
      await page.mouse.wheel(0, i < 6 ? -120 : 120);
      await page.waitForTimeout(80);
    }
    await tell("plan zoomed by the wheel");
    for (let i = 0; i < 3; i += 1) await page.getByRole("button", { name: "Larger" }).click();
    await page.mouse.move(x, y);
    await record();
    await page.mouse.down();
    for (let i = 0; i < 60; i += 1) await page.mouse.move(x - 3 * i, y + i);
    await page.mouse.up();
    await tell("plan pushed along");
    if (process.env.PICTURES) await page.screenshot({ path: `${process.env.PICTURES}/smooth-${width}.png` });
    await page.goto(`${address}/beds?part=East+field`);
    await page.waitForTimeout(500);
    await record();
    for (let i = 0; i < 40; i += 1) {
      await page.mouse.wheel(0, 300);
      await page.waitForTimeout(16);
    }
    await tell(
      `list scrolled by ${await page.evaluate(() =>
        Math.round(
          document.scrollingElement.scrollTop ||
            Math.max(...[...document.querySelectorAll("*")].map((e) => e.scrollTop)),
        ),
      )} px`,
    );
    if (process.env.PICTURES) await page.screenshot({ path: `${process.env.PICTURES}/list-${width}.png` });
    await page.close();
  }
} finally {
  await browser.close();
  demo.kill("SIGTERM");
}

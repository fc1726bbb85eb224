// Traces 20 steps of the date handle on the demo's plan and reports each step's time and the
// longest frame. Never asserted.
import { spawn } from "node:child_process";
import { readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";

const address = "http://127.0.0.1:8417";
const trace = join(tmpdir(), `zephyrfield-trace-${process.pid}.json`);
const demo = spawn("bin/zephyrfield", ["demo", "--listen", "127.0.0.1:8417"], { stdio: ["ignore", "pipe", "inherit"] });
await new Promise((ready) => demo.stdout.once("data", ready));

const browser = await chromium.launch(config.use.launchOptions);
try {
  const page = await browser.newPage({ viewport: config.use.viewport });
  await page.goto(address);
  await page.evaluate(() => document.fonts.ready);
  await page.locator("#handle").focus();
  const step = async (key) => {
    const day = await page.locator("#handle").getAttribute("data-day");
    await page.keyboard.press(key);
    await page.waitForFunction((was) => document.getElementById("handle").dataset.day !== was, day);
  };
  for (const key of ["PageUp", "PageDown"]) await step(key); // warm
  await page.evaluate(() => {
    window.frames20 = [];
    let last = performance.now();
    const tick = (now) => {
      window.frames20.push(now - last);
      last = now;
      requestAnimationFrame(tick);
    };
    requestAnimationFrame(tick);
  });
  await browser.startTracing(page, { path: trace, categories: ["devtools.timeline", "toplevel"] });
  for (let i = 0; i < 20; i += 1) await step(i % 10 < 5 ? "ArrowUp" : "PageDown");
  await browser.stopTracing();
  const steps = await page.evaluate(() =>
    performance
      .getEntriesByType("resource")
      .filter((r) => r.name.includes("on="))
      .slice(-20)
      .map((r) => r.duration),
  );
  const frames = await page.evaluate(() => window.frames20);

  const events = JSON.parse(readFileSync(trace)).traceEvents;
  const main = events.find((e) => e.name === "thread_name" && e.args.name === "CrRendererMain");
  const tasks = events
    .filter((e) => e.ph === "X" && e.pid === main.pid && e.tid === main.tid && e.name.endsWith("RunTask"))
    .map((e) => e.dur / 1000);
  const sorted = (xs) => [...xs].sort((a, b) => a - b);
  const tell = (name, xs) => {
    const s = sorted(xs);
    console.log(
      `${name}: median ${s[Math.floor(s.length / 2)].toFixed(1)} ms, longest ${s[s.length - 1].toFixed(1)} ms of ${s.length}, ` +
        `${s.filter((x) => x > 50).length} over 50 ms`,
    );
  };
  tell("request of a step", steps);
  tell("frame to frame", frames);
  tell("work on the page's main thread", tasks);
} finally {
  await browser.close();
  demo.kill("SIGTERM");
  rmSync(trace, { force: true });
}

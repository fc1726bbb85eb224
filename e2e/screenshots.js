// Takes the pictures of docs/screenshots from the demo: one of each main view.
import { spawn } from "node:child_process";
import { chromium } from "@playwright/test";
import config from "./playwright.config.js";

const address = "http://127.0.0.1:8317";
const way = (name) => (page) => page.getByRole("group", { name: "Read by" }).getByText(name, { exact: true }).click();
const series = async (page) => {
  await way("Jar series")(page);
  for (const [i, [lime, ph]] of [
    [0, 5.7],
    [0.5, 6.02],
    [1, 6.41],
    [1.5, 6.72],
    [2, 7.13],
  ].entries()) {
    await page.locator(`#jar${i + 1}_lime`).fill(String(lime));
    await page.locator(`#jar${i + 1}_ph`).fill(String(ph));
  }
  await page.locator("#means .read-at").nth(4).waitFor();
  await page.getByText("Keep them damp").click();
};
// A round half walked, without a signal.
const walked = async (page) => {
  await page.getByRole("button", { name: "Set out" }).click();
  await page.locator("#left").waitFor();
  await page.context().setOffline(true);
  for (const n of [1, 2, 3, 4, 5])
    await page
      .locator(".core-button", { hasText: new RegExp(`^${n}$`) })
      .first()
      .click();
  await page.evaluate(() => window.scrollTo(0, 130));
};
// The second step of a beginning, tapped.
const handful = async (page) => {
  await page.getByText("holds, then crumbles").click();
  await page.locator("#crop").selectOption("bean");
};
// Thirty long beds from a table, read by a tour of a meter.
const thirty = async (page) => {
  await page
    .locator("#table-text")
    .fill(
      `name,length_m,width_m,crop,part\n${Array.from(
        { length: 30 },
        (_, i) => `East ${i + 1},0.75,15,tomato,East field\n`,
      ).join("")}`,
    );
  await page.getByRole("button", { name: "Add these beds" }).click();
  await page.goto(`${address}/bench/tour?part=East+field`);
  const fields = await page.locator(".tour-beds input").all();
  for (const [i, f] of fields.entries()) if (i !== 28) await f.fill(String((6 + ((i * 7) % 12) / 10).toFixed(1)));
  await page.getByRole("button", { name: "Save all readings" }).click();
  await page.goto(`${address}/?part=East+field`);
};
const views = [
  ["ground", "/?bed=2", 1280, 800],
  ["dose", "/beds/2/dose?target=6.4", 1280, 800],
  ["dose-phone", "/beds/2/dose?target=6.4&use=b1", 390, 844],
  ["bucket", "/bucket?what=b1", 390, 844],
  ["day-sheet", "/sheet", 390, 844],
  ["bench", "/bench?bed=2", 1280, 800, series],
  ["begin", "/begin/bed", 390, 844, handful],
  ["seasons", "/seasons?bed=8", 1280, 800],
  ["record", "/beds/7", 1280, 800],
  ["prepare", "/beds/9/turn", 1280, 800],
  ["ground-phone", "/", 390, 844],
  ["years", "/years", 1280, 800],
  ["log", "/log?season=2024/25", 1280, 800],
  ["backup", "/keep", 1280, 800],
  ["shed", "/shed", 1280, 800],
  ["share-out", "/shed/share", 1280, 800],
  ["walk", "/walk", 1280, 800],
  ["round", "/walk", 390, 844, walked],
  ["many", "/beds", 1280, 800, thirty],
];

const server = spawn("bin/zephyrfield", ["demo", "--listen", "127.0.0.1:8317"]);
try {
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(address).then(
        (r) => r.ok,
        () => false,
      )
    )
      break;
    await new Promise((done) => setTimeout(done, 100));
  }
  const browser = await chromium.launch(config.use.launchOptions);
  for (const [name, path, width, height, act] of views) {
    const page = await browser.newPage({ viewport: { width, height } });
    await page.goto(address + path);
    await page.evaluate(() => document.fonts.ready);
    if (act) await act(page);
    await page.screenshot({ path: `docs/screenshots/${name}.png` });
    await page.close();
  }
  await browser.close();
} finally {
  server.kill("SIGTERM");
}

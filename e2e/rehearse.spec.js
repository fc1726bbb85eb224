// A rehearsal from the empty file to the second dose.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test, expect, faults, answers } from "./help.js";

const address = "http://127.0.0.1:8121";
const phone = { width: 390, height: 844 };

const serve = async (file, ...more) => {
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", "127.0.0.1:8121", ...more], {
    stdio: "ignore",
  });
  await answers(address);
  return program;
};
const stop = (program) =>
  new Promise((done) => {
    program.on("exit", done);
    program.kill("SIGTERM");
  });
const months = async (page, n) => {
  for (let i = 0; i < n; i += 1) {
    const day = await page.locator("#demo-day").textContent();
    await page.getByRole("button", { name: "Next month" }).click();
    await expect(page.locator("#demo-day")).not.toHaveText(day);
  }
};

test("a rehearsal goes from the empty file to the rest of its first dose, which waits for the test", async ({
  page,
}) => {
  const folder = mkdtempSync(join(tmpdir(), "zephyrfield-e2e-"));
  const file = join(folder, "rehearsal.db");
  let program = await serve(file, "--rehearse", "2026-10-20");
  try {
    await page.goto(address);
    await expect(page.locator(".brand .rehearsal")).toHaveText("Rehearsal");
    await page.getByRole("link", { name: "Begin" }).click();
    await page.getByText("North", { exact: true }).click();
    await page.getByText("Mild and wet").click();
    await page.getByRole("button", { name: "Next", exact: true }).click();
    await page.getByText("holds, then crumbles").click();
    await page.locator("#crop").selectOption("bean");
    await page.getByText("in spring").click();
    await page.getByRole("button", { name: "Next", exact: true }).click();
    await page.locator("label", { hasText: /^\s*5\.5\s*$/ }).click();
    await page.getByText("Garden lime").click();
    await page.getByRole("button", { name: "Show the dose" }).click();
    await page.getByRole("button", { name: "Put it on today" }).click();
    await page
      .locator("section.job")
      .first()
      .getByRole("button", { name: /^Put on/ })
      .first()
      .click();
    await expect(page.locator("#flash")).toContainText("of garden lime on Bed 1");
    // However late it is, the rest is on no sheet before its test.
    await page.goto(`${address}/sheet`);
    await months(page, 7);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("1 bed to test");
    await expect(page.locator(".waiting")).toContainText("the rest, about");
    await expect(page.getByRole("button", { name: /^Put on/ })).toHaveCount(0);
    expect(await faults(page)).toEqual([]);
    // The day, the mark and what waits outlive the program.
    const day = await page.locator("#demo-day").textContent();
    await stop(program);
    program = await serve(file);
    await page.goto(`${address}/sheet`);
    await expect(page.locator("#demo-day")).toHaveText(day);
    await page.setViewportSize(phone);
    await page.getByRole("link", { name: "Enter the reading" }).click();
    await page
      .locator("label", { hasText: /^\s*5\.5\s*$/ })
      .first()
      .click();
    await page.getByRole("button", { name: "Save the reading" }).click();
    await expect(page.locator("#flash")).toContainText("Added a reading of Bed 1: pH 5.5 by kit.");
    expect(await faults(page)).toEqual([]);
    await page.getByRole("link", { name: "To the rest" }).click();
    await expect(page.locator(".lead")).toContainText(/garden lime, on 17 Oct/);
    await expect(page.locator(".sky .rehearsal")).toBeVisible();
    expect(await faults(page)).toEqual([]);
    await page.getByRole("button", { name: "Plan for 17 Oct" }).click();
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(`${address}/sheet`);
    await months(page, 5);
    await page
      .locator("section.job")
      .first()
      .getByRole("button", { name: /^Put on/ })
      .first()
      .click();
    await expect(page.locator("#flash")).toContainText("of garden lime on Bed 1");
  } finally {
    await stop(program);
    rmSync(folder, { recursive: true });
  }
});

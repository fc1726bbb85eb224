// Learning: retests are judged, doses use them, and alternatives are compared.
import { readFile } from "node:fs/promises";
import { test, expect, faults } from "./help.js";

test("what a bed has shown changes its dose, is put aside and taken back", async ({ page }) => {
  await page.goto("/beds/1/dose");
  const note = page.locator("#learned-note");
  await expect(note).toContainText("Learned from 7 tests");
  const before = await note.textContent();
  await page.locator("#answer .more-notes summary").first().click();
  await note.getByRole("link", { name: "What this bed has shown" }).click();
  await expect(page.locator("#based-on")).toContainText("Its doses are learned from 7 tests");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Ignore its tests up to today" }).click();
  await expect(page.locator("#based-on")).toContainText("Its doses follow the texture table");
  await page.goto("/beds/1/dose");
  await expect(page.locator("#learned-note")).toHaveCount(0);
  await page.goto("/beds/1/learned");
  await page.getByRole("button", { name: "Learn from all tests again" }).click();
  await page.goto("/beds/1/dose");
  await expect(page.locator("#learned-note")).toHaveText(before.trim().replace(/\s+/g, " "));
});

test("a retest is entered and its promise judged first thing; undone, that is gone", async ({ page }) => {
  await page.goto("/?bed=3");
  const news = page.locator(".kept-note");
  await expect(news).toHaveCount(0);
  // The ledge is to get ash: ticked, and tested four months after, it is judged.
  await page.goto("/sheet");
  const job = page.locator(".job", { hasText: "Lower ledge" });
  await job.getByRole("button", { name: /^Put on \d/ }).click();
  await expect(page.locator("#flash")).toContainText("Lower ledge");
  for (let i = 0; i < 18; i += 1) {
    const day = await page.locator("#demo-day").textContent();
    await page.getByRole("button", { name: "Next week" }).click();
    await expect(page.locator("#demo-day")).not.toHaveText(day);
  }
  await page.goto("/bench?bed=3");
  await page.locator("#ph").fill("6.0");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(news).toBeVisible();
  await expect(news).toContainText("expected");
  expect(await faults(page)).toEqual([]);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator(".kept-note")).toHaveCount(0);
});

test("the seasons of a bed are read, another bed is chosen, and a way tried is kept as the plan", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Seasons", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("a year");
  expect(await faults(page)).toEqual([]);
  await page
    .getByRole("navigation", { name: "All beds" })
    .getByRole("link", { name: /^Middle ledge/ })
    .click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("Middle ledge turns more sour");
  await page.getByText("as a table").first().click();
  await expect(page.getByRole("cell", { name: "1 Jul 2028" })).toBeVisible();
  await page.getByRole("link", { name: "Compare options" }).click();
  await expect(page.locator("#what2")).toHaveValue(/b\d+/);
  await page.locator("#amount2").fill("2");
  await page.locator("#what3").selectOption("nothing");
  await page.locator("#water3").fill("300");
  await page.getByRole("button", { name: "Compare them" }).click();
  await expect(page.getByRole("region", { name: "Where the options lead" })).toContainText("2 kg of ground limestone");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Keep way 2 as the plan" }).click();
  await expect(page.locator("#flash")).toContainText("Planned 1 application and a retest for Middle ledge");
  await page.goto("/seasons?bed=2");
  await expect(page.locator(".season-head")).toContainText("With 1 application planned");
  await expect(page.locator(".season-wide")).toContainText("nothing more put on");
});

test("a season's report is printed on its paper, and its tables tell the same", async ({ page }) => {
  await page.goto("/seasons/report?season=2025/26");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Hollin Terrace, season 2025/26");
  expect(await faults(page)).toEqual([]);
  const reads = await page
    .locator(".report-bed", { has: page.getByRole("heading", { name: "Kale and roots" }) })
    .getByRole("region", { name: /^Readings/ })
    .locator("tbody tr")
    .count();
  const file = page.waitForEvent("download");
  await page.getByRole("link", { name: "CSV" }).click();
  const text = await readFile(await (await file).path(), "utf8");
  const lines = text.split("\n").filter((l) => l.startsWith("2025/26,Kale and roots,") && l.includes(",reading,"));
  expect(lines.length).toBe(reads);
  await page.emulateMedia({ media: "print" });
  await expect(page.locator(".report form")).toBeHidden();
  for (const format of ["A4", "Letter"]) {
    const pdf = await page.pdf({ format });
    expect(pdf.length).toBeGreaterThan(20_000);
  }
});

test("on the phone the newest is in sight first", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/seasons?bed=8");
  await expect(page.locator(".season-slim")).toBeVisible();
  await expect(page.locator(".season-wide")).toBeHidden();
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect(await faults(page)).toEqual([]);
  await page.goto("/beds/8/try");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
  expect(await faults(page)).toEqual([]);
});

// An empty garden: three short steps by taps to a dose and the day sheet; everything survives a
// restart.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test, expect, faults, answers } from "./help.js";

const address = "http://127.0.0.1:8118";

const serve = async (file) => {
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", "127.0.0.1:8118"]);
  await answers(address);
  return program;
};

const stop = (program) =>
  new Promise((done) => {
    program.on("exit", done);
    program.kill("SIGTERM");
  });

// What is in sight of a step: its words (a figure is none), and its inputs, where a row of choices counts as one; of the
// answer, what its first screen shows below the head.
const inSight = (page, first = false) =>
  page.evaluate((first) => {
    const seen = (el) =>
      el.checkVisibility({ checkOpacity: true, checkVisibilityCSS: true, contentVisibilityAuto: true }) &&
      el.getBoundingClientRect().width > 2 &&
      (!first || (el.closest("main") && el.getBoundingClientRect().bottom < innerHeight));
    const rows = new Set();
    for (const el of document.querySelectorAll("input:not([type=hidden]), select, textarea")) {
      const shown = el.matches("[type=radio], [type=checkbox]") ? el.labels[0] : el;
      if (seen(shown)) rows.add(el.name);
    }
    let words = 0;
    const texts = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT);
    while (texts.nextNode()) {
      const at = texts.currentNode.parentElement;
      if (at.closest("script, style, option, .sr, .skip, dialog:not([open])") || !seen(at)) continue;
      words += texts.currentNode.textContent.split(/\s+/).filter((w) => /\p{L}/u.test(w)).length;
    }
    for (const s of document.querySelectorAll("select")) {
      if (seen(s)) words += s.selectedOptions[0].textContent.trim().split(/\s+/).length;
    }
    return { inputs: rows.size, words };
  }, first);

const targets = (page, least) =>
  page.evaluate(
    (px) =>
      [...document.querySelectorAll("main button, main a, main summary, main label")]
        .filter(
          (el) =>
            el.checkVisibility() &&
            !el.closest("p.soft") &&
            (el.tagName !== "LABEL" || el.control?.type === "radio" || el.control?.type === "checkbox"),
        )
        .map((el) => ({ text: el.textContent.trim().slice(0, 30), ...el.getBoundingClientRect().toJSON() }))
        .filter((r) => r.height < px || r.width < px)
        .map((r) => `${r.text} ${Math.round(r.width)}×${Math.round(r.height)}`),
    least,
  );

for (const size of [
  { width: 1280, height: 800 },
  { width: 390, height: 844 },
]) {
  test.describe(`at ${size.width}`, () => {
    test.use({ viewport: size, hasTouch: size.width < 600 });
    test("three steps of taps from nothing to the day's sheet", async ({ page }) => {
      const folder = mkdtempSync(join(tmpdir(), "zephyrfield-e2e-"));
      const file = join(folder, "garden.db");
      let program = await serve(file);
      const tap = (el) => (size.width < 600 ? el.tap() : el.click());
      const all = { inputs: 0, words: 0 };
      const step = async () => {
        expect(await faults(page)).toEqual([]);
        expect(await targets(page, 44)).toEqual([]);
        expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
        const seen = await inSight(page);
        all.inputs += seen.inputs;
        all.words += seen.words;
      };
      try {
        await page.goto(address);
        await expect(page.getByRole("heading", { level: 1 })).toHaveText("Nothing on the plan yet");
        await tap(page.getByRole("link", { name: "Begin" }));
        await tap(page.getByText("North", { exact: true }));
        await tap(page.getByText("Mild and wet"));
        await step();
        await tap(page.getByRole("button", { name: "Next", exact: true }));
        await expect(page.getByRole("heading", { level: 1 })).toHaveText("Your first bed");
        await tap(page.getByText("holds, then crumbles"));
        await page.locator("#crop").selectOption("bean");
        await tap(page.getByText("in spring"));
        await step();
        await tap(page.getByRole("button", { name: "Next", exact: true }));
        await tap(page.locator("label", { hasText: /^\s*5\.5\s*$/ }));
        await tap(page.getByText("Garden lime"));
        await tap(page.getByText("Wood ash"));
        await tap(page.getByText("Yes", { exact: true }));
        await step();
        expect(all.inputs, "inputs of the three steps").toBeLessThanOrEqual(12);
        await tap(page.getByRole("button", { name: "Show the dose" }));
        // The answer stands in the first screen, largest of all.
        const lead = page.locator(".lead");
        await expect(lead).toContainText(/^\s*\d+ (about )?handfuls of garden lime, today/);
        expect((await lead.boundingBox()).y).toBeLessThan(size.height / 2);
        await expect(page.locator("#steps")).toBeHidden();
        all.words += (await inSight(page, true)).words;
        expect(all.words, "words of the three steps and of the answer’s first screen").toBeLessThanOrEqual(150);
        await expect(page.locator(".scatter")).toBeVisible();
        await tap(page.getByRole("button", { name: "Put it on today" }));
        await expect(page).toHaveURL(/\/sheet/);
        await expect(page.locator("section.job").first()).toContainText("arden lime");

        await stop(program);
        expect(readdirSync(join(folder, "garden.db.copies"))).toHaveLength(1);
        program = await serve(file);
        await page.goto(address);
        await expect(page.locator("#slip-name")).toHaveText("Bed 1");
      } finally {
        await stop(program);
        rmSync(folder, { recursive: true });
      }
    });
  });
}

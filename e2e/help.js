// Fixtures shared by all specs.
import { spawn } from "node:child_process";
import { createServer } from "node:net";
import { test as base, expect } from "@playwright/test";
import AxeBuilder from "@axe-core/playwright";

const freePort = () =>
  new Promise((done) => {
    const s = createServer();
    s.listen(0, "127.0.0.1", () => {
      const { port } = s.address();
      s.close(() => done(port));
    });
  });

// answers waits until a started program answers.
export async function answers(address) {
  for (let i = 0; i < 300; i += 1) {
    if (
      await fetch(address).then(
        (r) => r.ok,
        () => false,
      )
    )
      return;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error(`nothing answers at ${address}`);
}

// Console errors fail a test. A test that provokes a refusal calls page.expectRefusal().
export const test = base.extend({
  // Each test has its own demo, on its first day.
  baseURL: async ({}, use) => {
    const address = `127.0.0.1:${await freePort()}`;
    const demo = spawn("bin/zephyrfield", ["demo", "--listen", address], { stdio: "ignore" });
    await answers(`http://${address}/`);
    await use(`http://${address}`);
    await new Promise((done) => {
      demo.on("exit", done);
      demo.kill("SIGTERM");
    });
  },
  page: async ({ page }, use) => {
    const errors = [];
    let refusals = 0;
    page.expectRefusal = () => {
      refusals += 1;
    };
    page.on("console", (m) => {
      if (m.type() !== "error") return;
      if (/htmx:(sendAbort|afterRequest)/.test(m.text())) return; // overtaken by a newer one; a failed one says sendError too
      if (refusals > 0 && /status of 4(09|22)/.test(m.text())) return;
      errors.push(m.text());
    });
    page.on("pageerror", (e) => errors.push(e.message));
    await use(page);
    expect(errors).toEqual([]);
  },
});

export { expect };

// faults returns axe's serious and critical violations.
export async function faults(page) {
  // The fixed strip at the foot covers links scrolled beneath it, which axe would report as small
  // targets.
  const strip = (position) =>
    page.evaluate((to) => document.querySelector(".ribbon.slim")?.style.setProperty("position", to), position);
  await strip("relative"); // what stands in it keeps its place
  const found = await new AxeBuilder({ page })
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"])
    .analyze();
  await strip("");
  return found.violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(" | ")}`);
}

// unfold opens a folded part of a form by its title.
export const unfold = (page, title) => page.locator("details:not([open]) > summary", { hasText: title }).click();

// fillBed answers what a new bed is asked for beside its name.
export async function fillBed(page, crop = "general-vegetables") {
  await page.getByText("holds, then crumbles").click();
  await page.locator("#crop").selectOption(crop);
  await page.getByText("within weeks").click();
}

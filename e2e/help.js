// What the journeys share.
import { test as base, expect } from "@playwright/test";
import AxeBuilder from "@axe-core/playwright";

// Every page of every test is watched: an error on the console fails it. A
// test that provokes a refusal says so with page.expectRefusal().
export const test = base.extend({
  page: async ({ page }, use) => {
    const errors = [];
    let refusals = 0;
    page.expectRefusal = () => { refusals += 1; };
    page.on("console", (m) => {
      if (m.type() !== "error") return;
      if (refusals > 0 && /status of 4(09|22)/.test(m.text())) return;
      errors.push(m.text());
    });
    page.on("pageerror", (e) => errors.push(e.message));
    await use(page);
    expect(errors).toEqual([]);
  },
});

export { expect };

// faults are what axe finds wrong on a page that is serious or worse.
export async function faults(page) {
  const found = await new AxeBuilder({ page }).withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]).analyze();
  return found.violations
    .filter((v) => v.impact === "serious" || v.impact === "critical")
    .map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(" | ")}`);
}

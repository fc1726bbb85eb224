// Preparing a bed: dated back from its planting, step by step.
import { expect, faults, test } from "./help.js";

const phone = { width: 390, height: 844 };
const day = 24 * 3600 * 1000;

// whens are the days on which the steps stand, by name; the year follows from the order.
async function whens(page) {
  const out = {};
  let year = 2026;
  let last = Date.parse("2026-11-24 UTC");
  for (const li of await page.locator("#turn-answer .steps li:not(.out)").all()) {
    const name = await li.locator("b").textContent();
    const at = (y) => Date.parse(`${text.replace(/^\w+ /, "")} ${y} UTC`);
    const text = (await li.locator(".when").textContent()).trim();
    if (at(year) < last) year += 1;
    last = at(year);
    out[name.trim()] = last / day;
  }
  return out;
}

test("a bed is prepared from sod to planting, each distance kept", async ({ page }) => {
  await page.goto("/beds/9");
  await page.getByRole("link", { name: "Prepare it for the next crop" }).click();
  await expect(page.locator("h1")).toHaveText("Prepare New ground for general vegetables");
  const planting = (await page.locator("#planting option:checked").textContent()).replace(/^.*, /, "");
  await expect(page.getByRole("radio", { name: /Old sod or new ground/ })).toBeChecked();
  await page.locator("#organic").selectOption("rotted-manure");
  await expect(page.locator(".steps")).toContainText("of rotted manure");
  expect(await faults(page)).toEqual([]);
  const on = await whens(page);
  const planted = Date.parse(`${planting} UTC`) / day;
  expect(on["Sow or plant"]).toBe(planted);
  expect(planted - on["See whether it is ready"]).toBe(2);
  expect(planted - on["Work organic matter in"]).toBe(14);
  expect(on["Work organic matter in"] - on["Correct pH: lime, ash, or nothing"]).toBeGreaterThanOrEqual(21);
  expect(planted - on["Correct pH: lime, ash, or nothing"]).toBeGreaterThanOrEqual(84);
  expect(on["Correct pH: lime, ash, or nothing"] - on["Take a sample and test it"]).toBe(14);
  expect(planted - on["Strip the sod and chop it in"]).toBeGreaterThanOrEqual(60);
  expect(on["Loosen the soil"]).toBeGreaterThanOrEqual(on["Strip the sod and chop it in"]);
  // A step is left out, and the way changed: the page answers, and nothing is kept yet.
  await page.getByRole("checkbox", { name: "Mulch" }).uncheck();
  await expect(page.locator(".steps li.out", { hasText: "Mulch" })).toContainText("left out");
  await page.setViewportSize(phone);
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: /^Plan \d+ steps/ }).click();
  await expect(page.locator("#flash")).toContainText(`Preparing New ground for general vegetables, ${planting}`);
  await expect(page.locator(".job.first h2")).toHaveText("Strip the sod and chop it in");
  expect(await faults(page)).toEqual([]);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("h1")).toHaveText("Prepare New ground for general vegetables");
});

test("a late step puts the planting off, a look finds the ground not ready, and it is planted", async ({ page }) => {
  await page.setViewportSize(phone);
  await page.goto("/beds/1/turn");
  for (const name of [
    "Clear the old crop",
    "Loosen the soil",
    "Take a sample and test it",
    "Correct pH: lime, ash, or nothing",
    "Mulch",
    "Water it well",
  ]) {
    await page.getByRole("checkbox", { name }).uncheck();
    await expect(page.locator(".steps li.out", { hasText: name })).toBeVisible();
  }
  await page.locator("#organic").selectOption("");
  await expect(page.locator(".steps li.out", { hasText: "Work organic matter in" })).toBeVisible();
  await page.getByRole("button", { name: /^Plan \d+ steps/ }).click();
  const first = page.locator(".job.first");
  await expect(first.locator("h2")).toHaveText("See whether it is ready");
  page.expectRefusal();
  await first.getByRole("button", { name: "Done" }).click();
  await expect(page.locator(".job.first .fault:not(:empty)")).toContainText("Answer all three");
  for (const sign of ["smears and shines", "of earth", "wet through"])
    await page.getByRole("radio", { name: sign }).check();
  await first.getByRole("button", { name: "Done" }).click();
  await expect(page.locator(".job.first .guard")).toContainText("Look again on Tue 1 Dec");
  await page.locator("#foot-bar summary").click();
  await page.getByRole("button", { name: "Next week" }).click();
  await page.goto("/sheet");
  const job = page.locator(".job", { hasText: "See whether it is ready" });
  await expect(job).toContainText("it is wet through: let it drain");
  await job.getByRole("link", { name: "Look at the ground" }).click();
  for (const sign of ["crumbles", "of earth", "moist"])
    await page.getByRole("radio", { name: sign, exact: true }).check();
  await page.locator(".job.first").getByRole("button", { name: "Done" }).click();
  await expect(page.locator("#flash")).toContainText("Upper ledge is ready to plant");
  page.expectRefusal();
  await page.getByRole("button", { name: "Planted" }).click();
  await expect(page.locator(".job.first .fault:not(:empty)")).toContainText("needs its time until 3 Dec 2026");
  await page.locator("#foot-bar summary").click();
  await page.getByRole("button", { name: "Next week" }).click();
  await page.goto("/beds/1/turn");
  await page.getByRole("button", { name: "Planted" }).click();
  await expect(page.locator("#flash")).toContainText("Sow or plant: done on Upper ledge");
  await page.goto("/?bed=1");
  await expect(page.locator("body")).toContainText("Sweet pea");
  await expect(page.locator("body")).not.toContainText("Sweet pea next");
});

test("ash goes round the plants that stand, in cups, and counts in the bed's year", async ({ page }) => {
  await page.setViewportSize(phone);
  await page.goto("/beds/2/side");
  await expect(page.locator("#side-answer .fault").first()).toContainText("Nothing stands there");
  await page.goto("/beds/2");
  await page.locator("#crop").selectOption("cucumber");
  await page.locator("#sown").fill("2026-05-20");
  await page.getByRole("button", { name: "Add the crop" }).click();
  await page.getByRole("link", { name: "Ash round the plants" }).click();
  await page.locator("#plants").fill("4");
  await page.locator("#across").fill("100");
  await page.locator("#across").blur();
  // Roots 1 m across have 0.785 m², at 125 g/m² 98 g; four of them 390 g.
  await expect(page.locator(".big")).toContainText("98");
  await expect(page.locator(".big")).toContainText("about 0.8 cups");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Put on 390 g" }).click();
  await expect(page.locator("#flash")).toContainText("Put 390 g of ash round 4 plants on Middle ledge");
  await expect(page.locator("#log-entries")).toContainText("390 g");
  await page.goto("/beds/2/side");
  await expect(page.locator(".guard.stop")).toContainText("Applications must be kept apart");
  await page.goto("/beds/8/side");
  await expect(page.locator("#side-answer .fault").first()).toContainText("its applications come first");
});

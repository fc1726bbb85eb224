// Rescheduling: dragging on the ribbon, working days, the weather.
import { expect, faults, test } from "./help.js";

const phone = { width: 390, height: 844 };

test("a go is dragged into a forbidden week, says why, and takes the nearest good day", async ({ page }) => {
  await page.goto("/?bed=8");
  const stake = page.locator("a.stake[data-task]", { hasText: "lime, Kale and roots" }).first();
  const box = await stake.locator("path").first().boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y, { steps: 4 });
  await page.mouse.move(x + 500, y, { steps: 4 });
  await page.mouse.up();
  await expect(page).toHaveURL(/\/tasks\/\d+\/move\?to=2027-0[678]-\d\d/);
  await expect(page.locator("#move-answer .stop")).toContainText(
    /Not on \d+ (Jun|Jul|Aug) 2027: the bed is full\. The nearest suitable days are/,
  );
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: /^Take \d+ May 2027/ }).click();
  await expect(page.locator("#flash")).toContainText(
    /Moved an application of ground limestone on Kale and roots to \d+ May 2027/,
  );
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back");
  // By keys and by the date, on a phone; what follows is told before it is done.
  await page.setViewportSize(phone);
  await page.goto("/sheet");
  await page.locator(".job", { hasText: "Lower ledge" }).getByRole("link", { name: "Later" }).click();
  await page.locator("#to").fill("2026-12-08");
  await expect(page.locator("#move-answer")).toContainText(
    /application of oven ash, autumn batch moves from 19 Jan 2027 to 2 Feb 2027: applications must be kept apart/,
  );
  await page.getByRole("button", { name: "Move it to 8 Dec 2026" }).click();
  await expect(page.locator("#flash")).toContainText(
    /Moved an application of oven ash.* on Lower ledge to 8 Dec 2026, and \d tasks? that follow/,
  );
  await expect(page.locator(".coming")).toContainText("Tue 8 Dec");
});

test("two windows move one task: the later one is told", async ({ page, context }) => {
  await page.goto("/sheet");
  await page.locator(".job", { hasText: "Kale and roots" }).getByRole("link", { name: "Later" }).click();
  await page.locator("#to").fill("2026-12-08");
  await expect(page.getByRole("button", { name: "Move it to 8 Dec 2026" })).toBeVisible();
  const other = await context.newPage();
  await other.goto(page.url().replace(/\?.*/, "") + "?to=2026-12-01");
  await other.getByRole("button", { name: "Move it to 1 Dec 2026" }).click();
  await expect(other.locator("#flash")).toContainText("to 1 Dec 2026");
  const answer = page.waitForResponse((r) => r.request().method() === "POST");
  page.expectRefusal();
  await page.getByRole("button", { name: "Move it to 8 Dec 2026" }).click();
  expect((await answer).status()).toBe(409);
  await expect(page.locator("main")).toContainText("changed");
});

test("manure logged by the barrow moves a go by its rule, and is put right", async ({ page }) => {
  await page.goto("/sheet");
  await page.getByRole("link", { name: "Log", exact: true }).click();
  await page.getByText("Add to the log", { exact: true }).click();
  expect(await faults(page)).toEqual([]);
  await page.locator("#bed").selectOption({ label: "Lower ledge" });
  await page.locator("#what").selectOption({ label: "Fresh manure" });
  await page.locator("#put_date").fill("2026-11-20");
  await page.locator("#put_amount").fill("0,5");
  await page.locator("#measure").selectOption({ label: "barrows" });
  page.expectRefusal();
  await page.getByRole("button", { name: "Note it" }).click();
  // It is November: the log asks by the rules of the dose, once.
  await expect(page.locator("main")).toContainText("the winter’s rain would wash it out. Sure?");
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(page.locator("#flash")).toContainText("Noted 28 kg of fresh manure on Lower ledge, 20 Nov 2026");
  await expect(page.locator("#log-entries tbody tr").first()).toContainText("0.5 barrows, about 28 kg");
  await page.goto("/sheet");
  await expect(page.locator(".coming").first()).toContainText("Lower ledge");
  await expect(page.locator(".coming").first()).toContainText(
    "moved from 24 Nov 2026: nitrogen feed or fresh manure was put on less than 21 days before",
  );
  await page.goto("/log?bed=3");
  await page.getByRole("link", { name: "Correct" }).first().click();
  await page.getByRole("button", { name: "Delete it from the log" }).click();
  await expect(page.locator("#flash")).toContainText("Deleted 28 kg of fresh manure");
  await page.goto("/sheet");
  await expect(page.locator(".job", { hasText: "Lower ledge" })).toBeVisible();
});

test("a wet ten days moves the day, once it is asked for", async ({ page }) => {
  await page.goto("/sheet");
  await expect(page.locator(".sky-ahead li")).toHaveCount(10);
  expect(await faults(page)).toEqual([]);
  for (const size of [phone, { width: 1280, height: 800 }]) {
    await page.setViewportSize(size);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
  }
  await expect(page.locator(".sky-ahead")).toContainText("Simulated station.");
  // Day by day to the first on which the simulated weather is against it.
  const wait = page.getByRole("button", { name: /^Move what waits to/ });
  for (let n = 0; n < 14 && (await wait.count()) === 0; n += 1)
    await page.getByRole("button", { name: "Next day" }).click();
  await expect(page.locator(".sky-ahead p").first()).toContainText(/today; the next good day is/);
  const day = (await wait.textContent()).replace("Move what waits to ", "").trim();
  const waits = await page.locator(".job .big").count();
  expect(waits).toBeGreaterThan(0);
  await wait.click();
  await expect(page.locator("#flash")).toContainText(/Moved \d+ applications? to .*, for the weather/);
  await expect(page.locator(".coming")).toContainText(day);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator(".job .big")).toHaveCount(waits);
});

test("work stands on days of one's own, and a stretch away is kept free", async ({ page }) => {
  await page.setViewportSize(phone);
  await page.goto("/sheet");
  await page.getByRole("link", { name: "Your days" }).click();
  await page.getByLabel("Saturday").check();
  await page.getByLabel("One more: away from").fill("2026-11-27");
  await page.getByLabel("One more: away until").fill("2026-11-26");
  page.expectRefusal();
  await page.getByRole("button", { name: "Save these days" }).click();
  await expect(page.locator(".fault", { hasText: "after the first" })).toBeVisible();
  await expect(page.getByLabel("Saturday")).toBeChecked();
  expect(await faults(page)).toEqual([]);
  await page.getByLabel("Away until").first().fill("2026-11-29");
  await page.getByRole("button", { name: "Save these days" }).click();
  await expect(page.locator("h1")).toHaveText("Work is planned on Saturdays");
  await page.goto("/sheet");
  await expect(page.locator(".coming")).toContainText("Lower ledge");
  await expect(page.locator(".coming")).toContainText("Sat 5 Dec");
  await expect(page.locator(".coming")).toContainText("that is not one of your days");
  await expect(page.locator(".job", { hasText: "Kale and roots" })).toContainText("due since Sat 21 Nov");
});

test("a thermometer overrides the averages, and says so", async ({ page }) => {
  await page.goto("/sheet");
  await page.getByRole("link", { name: "Soil temperature" }).click();
  await expect(page.locator("h1")).toHaveText("No soil temperature was measured yet");
  await page.locator("#soil_c").fill("warm");
  page.expectRefusal();
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(page.locator("#soil_c-fault")).toContainText("not a number");
  await page.locator("#soil_c").fill("-1");
  await page.getByRole("button", { name: "Note it" }).click();
  await expect(page.locator("h1")).toHaveText("Soil −1 °C today");
  expect(await faults(page)).toEqual([]);
  // Frozen ground takes nothing: what is due waits by its rule.
  await page.goto("/sheet");
  await expect(page.locator(".coming")).toContainText("the ground is frozen then");
  await page.goto("/warmth");
  await page.getByText("as a table").first().click();
  await page.getByRole("button", { name: "Delete 24 Nov 2026" }).click();
  await expect(page.locator("#flash")).toContainText("Deleted the soil’s temperature of 24 Nov 2026");
  await page.setViewportSize(phone);
  expect(await faults(page)).toEqual([]);
});

test("potatoes keep lime off in their year, and kale wants it before", async ({ page }) => {
  await page.goto("/beds/8");
  await page.getByRole("link", { name: "All beds, year by year" }).click();
  page.expectRefusal();
  await page.getByRole("button", { name: "Add the crop" }).click();
  await expect(page.locator("#bed-fault")).toContainText("Choose a bed");
  await page.locator("#bed").selectOption({ label: "Kale and roots" });
  await page.locator("#crop").selectOption("potato");
  await page.locator("#sown").fill("2027-08-10");
  await page.getByRole("button", { name: "Add the crop" }).click();
  await expect(page.locator("#flash")).toContainText("Potato on Kale and roots from 10 Aug 2027");
  const row = page.locator("main tr", { has: page.getByRole("link", { name: "Kale and roots" }) });
  await expect(row.locator(".sour-year").first()).toContainText("no lime, no ash");
  expect(await faults(page)).toEqual([]);
  await page.goto("/");
  await expect(page.locator("body")).toContainText("it is the potato year there");
  await page.setViewportSize(phone);
  await page.goto("/years");
  expect(await faults(page)).toEqual([]);
});

test("what a bed has shown is told with its doubt", async ({ page }) => {
  await page.goto("/beds/8");
  await page.getByRole("link", { name: "What this bed has shown" }).click();
  await expect(page.locator(".says")).toContainText(
    /From 7 tests it needs \d\.\d times the lime that the texture table says/,
  );
  await expect(page.locator("#kept + div tbody tr").first()).toContainText("expected");
  expect(await faults(page)).toEqual([]);
  await page.setViewportSize(phone);
  expect(await faults(page)).toEqual([]);
  await page.goto("/beds/9/learned");
  await expect(page.locator(".guard")).toContainText("It has no reading yet");
});

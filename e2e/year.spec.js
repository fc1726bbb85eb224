// The year gives way rightly: a go dragged on the ribbon, days of one's own, the weather.
import { expect, faults, test } from "./help.js";

const phone = { width: 390, height: 844 };

test("a go is dragged into a forbidden week, says why, and takes the nearest good day", async ({ page }) => {
  await page.goto("/?bed=8");
  const stake = page.locator("a.stake[data-task]", { hasText: "lime, Kale and roots" }).last();
  const box = await stake.locator("path").first().boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 60, y, { steps: 4 });
  await page.mouse.move(x + 250, y, { steps: 4 });
  await page.mouse.up();
  await expect(page).toHaveURL(/\/tasks\/\d+\/move\?to=2027-0[678]-\d\d/);
  await expect(page.locator("#move-answer .stop")).toContainText(
    /Not on \d+ (Jun|Jul|Aug) 2027: the bed is full\. The nearest days that serve are/);
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: /^Take \d+ May 2027/ }).click();
  await expect(page.locator("#flash")).toContainText(/Moved a go of ground limestone on Kale and roots to \d+ May 2027/);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back");
  // By keys and by the date, on a phone; what follows is told before it is done.
  await page.setViewportSize(phone);
  await page.goto("/sheet");
  await page.locator(".job", { hasText: "Kale and roots" }).getByRole("link", { name: "Later" }).click();
  await page.locator("#to").fill("2026-12-08");
  await expect(page.locator("#move-answer")).toContainText(
    "The go of ground limestone moves from 16 Feb 2027 to 2 Mar 2027: goes must be kept apart.");
  await page.getByRole("button", { name: "Move it to 8 Dec 2026" }).click();
  await expect(page.locator("#flash")).toContainText(
    "Moved a go of ground limestone on Kale and roots to 8 Dec 2026, and 1 task that follow");
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

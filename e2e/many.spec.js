// Many beds: thirty from a table, at both sizes, zoomed, panned, selected and changed at once.
import { test, expect, faults } from "./help.js";

const table = () =>
  "name,length_m,width_m,crop,part\n" +
  Array.from({ length: 30 }, (_, i) => `East ${i + 1},0.75,15,tomato,East field\n`).join("");

test.beforeEach(async ({ page }) => {
  await page.goto("/beds");
  await page.locator("#table-text").fill(table());
  await page.getByRole("button", { name: "Add these beds" }).click();
  await expect(page.locator("#flash")).toContainText("Added 30 beds of a table");
});

// Which names are shown, and how large on the screen.
const shown = (page) =>
  page.evaluate(() =>
    [...document.querySelectorAll(".plan .bed-name")]
      .filter((t) => t.getBoundingClientRect().width > 0)
      .map((t) => ({
        text: t.textContent,
        high: Math.min(t.getBoundingClientRect().width, t.getBoundingClientRect().height),
      })),
  );

test("thirty long beds are read, zoomed into by buttons and keys, and pushed along without choosing one", async ({
  page,
}) => {
  await page.goto("/?part=East+field");
  await expect(page.locator(".plan a")).toHaveCount(30);
  expect(await faults(page)).toEqual([]);
  const names = await shown(page);
  expect(names.map((n) => n.text)).toEqual(Array.from({ length: 30 }, (_, i) => `East ${i + 1}`));
  for (const n of names) expect(n.high).toBeGreaterThan(11);
  const bed = page.locator(".plan a .shape").nth(14);
  const before = await bed.boundingBox();
  await page.getByRole("button", { name: "Larger" }).click();
  await page.keyboard.press("+");
  // The plan follows with the next frame: 1.6 twice, the line around it as it was.
  const wide = async () => (await bed.boundingBox()).width / before.width;
  await expect.poll(wide).toBeGreaterThan(2.3);
  const after = await bed.boundingBox();
  for (const n of await shown(page)) expect(n.high, "a label keeps its size").toBeLessThan(24);
  const slip = await page.locator("#slip-name").textContent();
  const plan = await page.locator(".plan").boundingBox();
  const middle = plan.y + plan.height / 2;
  await page.mouse.move(after.x + 5, middle);
  await page.mouse.down();
  await page.mouse.move(after.x + 85, middle, { steps: 4 });
  await page.mouse.up();
  await expect.poll(async () => (await bed.boundingBox()).x - after.x).toBeCloseTo(80, -1);
  await expect(page.locator("#slip-name")).toHaveText(slip);
  await page.mouse.click((await bed.boundingBox()).x + 8, middle);
  await expect(page.locator("#slip-name")).toHaveText("East 15");
  await expect.poll(wide, "it stays zoomed").toBeGreaterThan(2);
  await page.getByRole("button", { name: "Fit" }).click();
  await expect.poll(async () => Math.abs((await bed.boundingBox()).width - before.width)).toBeLessThan(2.5);
});

test("on a phone the names come with the zoom, by buttons and by two fingers", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/?part=East+field");
  expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBe(390);
  const box = await page.locator(".plan").boundingBox();
  await page.locator(".plan").evaluate(
    (svg, { x, y }) => {
      const put = (type, id, dx) =>
        svg.dispatchEvent(new PointerEvent(type, { pointerId: id, clientX: x + dx, clientY: y, bubbles: true }));
      put("pointerdown", 1, -20);
      put("pointerdown", 2, 20);
      put("pointermove", 1, -60);
      put("pointermove", 2, 60);
      put("pointerup", 1, -60);
      put("pointerup", 2, 60);
    },
    { x: box.x + box.width / 2, y: box.y + box.height / 2 },
  );
  await expect.poll(async () => (await shown(page)).map((n) => n.text)).toContain("East 16"); // once a frame is drawn
  await page.getByRole("button", { name: "Fit" }).click();
  await page.getByRole("button", { name: "Larger" }).click();
  await page.getByRole("button", { name: "Larger" }).click();
  for (const n of await shown(page)) expect(n.high).toBeGreaterThan(11);
});

test("beds are filtered, a stretch is chosen and changed, and it is taken back", async ({ page }) => {
  await page.locator("#part").selectOption("East field");
  await expect(page.locator("#beds-head")).toHaveText("30 of 43 beds");
  await page.getByRole("checkbox", { name: "East 3", exact: true }).check();
  await page.getByRole("checkbox", { name: "East 3", exact: true }).press("ArrowDown");
  await expect(page.getByRole("checkbox", { name: "East 4", exact: true })).toBeFocused();
  await page.getByRole("checkbox", { name: "East 9", exact: true }).click({ modifiers: ["Shift"] });
  await page.locator("#set_texture").selectOption("clay");
  await page.locator("#set_depth").fill("90");
  expect(await faults(page)).toEqual([]);
  page.expectRefusal();
  await page.getByRole("button", { name: "Apply to 7 beds" }).click();
  await expect(page.locator(".give .fault").nth(2)).toContainText("from 2 to 60 cm");
  await expect(page.locator("tbody input:checked")).toHaveCount(7);
  await page.locator("#set_depth").fill("20");
  await page.getByRole("button", { name: "Apply to 7 beds" }).click();
  await expect(page.locator("#flash")).toContainText("Changed 7 beds");
  await expect(page.locator("tbody tr", { hasText: "Clay" }).filter({ hasNotText: "loam" })).toHaveCount(7);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("tbody tr", { hasText: "Clay" }).filter({ hasNotText: "loam" })).toHaveCount(0);
});

test("a round of twelve of thirty beds is set out on a phone in at most eight taps", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/walk");
  let taps = 0;
  const tap = async (what) => {
    taps += 1;
    await what.click();
  };
  const choose = async (label, name) => {
    taps += 2;
    const shown = page.waitForResponse((r) => r.url().includes("/walk?"));
    await page.getByLabel(label, { exact: true }).selectOption({ label: name });
    await shown;
    await expect(page.getByLabel(label, { exact: true }).locator("option:checked")).toHaveText(name);
  };
  await tap(page.getByText("A stretch of the list"));
  await choose("From", "East 7");
  await choose("To", "East 18");
  await tap(page.getByRole("button", { name: "Add these" }));
  await expect(page.locator(".round-bed input[type=checkbox]:checked")).toHaveCount(12);
  await tap(page.getByRole("button", { name: "Set out" }));
  await expect(page.locator(".stop")).toHaveCount(12);
  expect(taps).toBeLessThanOrEqual(8);
});

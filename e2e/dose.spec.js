// Doses at both sizes; methods, mixing by hand, many beds; a material at hand.
import { execFileSync } from "node:child_process";
import { expect, faults, test } from "./help.js";

const grams = (text) => Number(text.replace(" g", ""));
const phone = { width: 390, height: 844 };
const total = (list) => list.reduce((sum, x) => sum + x, 0);

test("on the phone a dose opens on the answer, and all else is folded under it", async ({ page }) => {
  await page.setViewportSize(phone);
  await page.goto("/beds/2/dose?target=6.4&use=b1");
  const lead = page.locator(".lead");
  await expect(lead).toHaveText(/15\s+level scoops of oven ash, autumn batch, today/);
  expect((await lead.boundingBox()).y).toBeLessThan(420);
  await expect(page.locator("#put")).toBeInViewport();
  await expect(page.locator("#target")).toBeHidden();
  await expect(page.locator("#steps")).toBeHidden();
  expect(await faults(page)).toEqual([]);
  // Another way: the answer follows, and the list stays open under the finger.
  await page.getByRole("link", { name: /Other options/ }).click();
  await page.locator("label.opt", { hasText: "Ground limestone" }).click();
  await expect(lead).toContainText("kg of ground limestone, today");
  await expect(page.locator("#ways label.opt").first()).toBeVisible();
  await page.locator("#rests summary").click();
  await page.locator("#target").fill("6.2");
  await expect(page.locator("#need")).toContainText("161 g/m²");
  await expect(page.locator("#target")).toBeFocused();
  for (const size of [phone, { width: 1280, height: 800 }]) {
    await page.setViewportSize(size);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(size.width);
  }
  await expect(page.locator("#steps")).toBeVisible();
});

test("methods stand side by side, and a mix is slid by hand", async ({ page }) => {
  await page.goto("/beds/2/dose?target=6.4");
  const method = (name) => page.locator(".sides tr", { hasText: name });
  await expect(method("Texture")).toHaveClass(/on/);
  await expect(method("Texture")).toContainText("225 g/m²");
  await page.getByText("Organic matter", { exact: true }).first().click();
  await expect(method("Organic matter")).toHaveClass(/on/);
  await expect(page.locator("#need")).toContainText(await method("Organic matter").locator(".num").textContent());
  await page.getByRole("link", { name: "Mix ash and lime by hand" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("on Middle ledge");
  expect(await faults(page)).toEqual([]);
  // As far as it goes: too much is refused with what is left, and less may go on.
  await page.locator("#lime_on").fill("9.6");
  await expect(page.locator("#mix-answer .stop")).toContainText(
    "more would carry it past the edge of the crop’s range",
  );
  await expect(page.locator("#put-mix")).toHaveCount(0);
  await page.locator("#lime_on").fill("0.8");
  await page.locator("#ash_on").fill("1.5");
  await expect(page.getByRole("heading", { level: 1 })).toContainText("15 scoops of oven ash");
  await expect(page.locator("#ash_on")).toBeFocused();
  await page.locator("#put-mix").click();
  await expect(page.locator("#flash")).toContainText("Planned 2 applications and a retest for Middle ledge.");
});

test("several beds are dosed at once, and one by one", async ({ page }) => {
  await page.goto("/dose/many");
  expect(await faults(page)).toEqual([]);
  await page.getByLabel("Of what").selectOption({ label: "Oven ash, autumn batch" });
  await page.getByLabel("Lower ledge", { exact: true }).check();
  await expect(page.getByRole("heading", { level: 1 })).toContainText("of oven ash, autumn batch on 2 beds");
  const all = await page
    .locator("tr:has(input:checked) td[data-grams]")
    .evaluateAll((els) => els.map((e) => e.dataset.grams));
  const says = await page.locator(".many-all .line b").textContent();
  expect(Math.abs(total(all.map(grams)) / 1000 - parseFloat(says.split("(")[1]))).toBeLessThanOrEqual(0.05);
  await page.locator("#put-many").click();
  await expect(page.locator("#flash")).toContainText("for 2 beds");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await page.getByRole("button", { name: "Plan Middle ledge" }).click();
  await expect(page.locator("#flash")).toContainText("for 1 bed");
});

test("what is chosen, ticked or typed while an answer is on its way stays", async ({ page }) => {
  const slow = (path) =>
    page.route(path, async (route) => {
      await new Promise((go) => {
        setTimeout(go, 500);
      });
      await route.continue();
    });
  await page.goto("/dose/many");
  let release;
  const released = new Promise((go) => {
    release = go;
  });
  await page.route(/dose\/many\?/, async (route) => {
    await released;
    await route.continue();
  });
  await page.getByLabel("Of what").selectOption({ label: "Oven ash, autumn batch" });
  await expect(page.locator("#put-many")).toBeDisabled(); // what it would put on is not what is asked for
  await page.getByLabel("Lower ledge", { exact: true }).check();
  release(); // no sooner, however long a busy machine takes to look
  await expect(page.getByRole("heading", { level: 1 })).toContainText("of oven ash, autumn batch on 2 beds");
  await expect(page.locator("#put-many")).toBeEnabled();
  await page.goto("/shed/share");
  await slow(/shed\/share\?/);
  await page.getByText("Adjust by hand").click();
  const by = (bed) => page.getByLabel(`Oven ash, autumn batch on ${bed}`, { exact: true });
  await by("Middle ledge").fill("1.2");
  await by("Lower ledge").pressSequentially("0.7", { delay: 350 });
  await expect(by("Middle ledge")).toHaveValue("1.2");
  await expect(by("Lower ledge")).toHaveValue("0.7");
  await expect(page).toHaveURL(/=0\.7(&|$)/);
  await expect(by("Lower ledge")).toBeFocused();
});

test("a bucket in the hand goes where it may, with a signal or without", async ({ browser, baseURL }) => {
  const context = await browser.newContext({ viewport: phone, baseURL });
  const page = await context.newPage();
  await page.goto("/sheet");
  await page.getByRole("link", { name: /holding a bucket/ }).click();
  await page.waitForURL(/bucket/, { waitUntil: "load" }); // its script listens
  await page.getByLabel("In the bucket").selectOption({ label: "Fire-pit ash" });
  await expect(page.locator(".stop")).toContainText("Driftwood from the sea");
  await page.getByLabel("In the bucket").selectOption({ label: "Oven ash, autumn batch" });
  const at = (bed) => page.locator(".job", { hasText: bed });
  await expect(page.locator(".not", { hasText: "Blueberry pocket" })).toContainText("never ash");
  expect(await faults(page)).toEqual([]);
  await at("Lower ledge")
    .getByRole("button", { name: /^Put on 12/ })
    .click();
  await expect(page.locator("#flash")).toContainText(/Put .* of oven ash, autumn batch on Lower ledge/);
  await context.setOffline(true);
  await at("Middle ledge")
    .getByRole("button", { name: /^Put on 15/ })
    .click();
  await expect(at("Middle ledge")).toContainText("put on; kept here");
  await context.setOffline(false);
  await expect(page.locator("#flash")).toContainText(/oven ash, autumn batch on Middle ledge/);
  await context.close();
});

test("the amounts agree to the gram on Dose, Day sheet, Shed, paper, archive and command line", async ({
  page,
  request,
}) => {
  await page.goto("/beds/2/dose?target=6.4&use=b1");
  const exact = grams(await page.locator(".opt.on .amt[data-grams]").getAttribute("data-grams"));
  const goes = (
    await page.locator("#when .task-row[data-grams]").evaluateAll((els) => els.map((e) => e.dataset.grams))
  ).map(grams);
  const cli = JSON.parse(
    execFileSync("bin/zephyrfield", ["dose"], {
      input: await (await request.get(await page.locator("#json-link a").getAttribute("href"))).body(),
    }).toString(),
  );
  const option = cli.options.find(
    (o) => o.materials.length === 1 && o.goes.length === goes.length && o.materials[0].total_g === exact,
  );
  expect(option).toBeTruthy();
  expect(Math.abs(total(goes) - exact)).toBeLessThanOrEqual(1);
  // On A4 the answer, the ways, the days and the working stand there, and no button.
  await page.emulateMedia({ media: "print" });
  await page.setViewportSize({ width: 794, height: 1123 });
  const paper = [".lead", ".opt.on .amt[data-grams]", "#when .task-row", "#steps .step"];
  for (const part of paper) await expect(page.locator(part).first()).toBeVisible();
  await expect(page.locator("main button:not(.tell):visible, main input:visible")).toHaveCount(0);
  await page.emulateMedia({ media: "screen" });
  await page.setViewportSize({ width: 1280, height: 800 });
  const planned = async () => {
    await page.goto("/shed");
    return grams(await page.locator(".bin-row", { hasText: "Oven ash" }).getAttribute("data-grams"));
  };
  const before = await planned();
  await page.goto("/beds/2/dose?target=6.4&use=b1");
  await page.locator("#put").click();
  expect(Math.abs((await planned()) - before - exact)).toBeLessThanOrEqual(1);
  await page.goto("/sheet");
  const due = await page.locator(".job", { hasText: "Middle ledge" }).locator(".big").getAttribute("data-grams");
  expect(grams(due)).toBe(goes[0]);
  const archive = await (await request.get("/export/garden.json")).json();
  const tasks = archive.tasks.filter((t) => t.bed_id === 2 && t.state === "open" && t.batch_id === 1);
  expect(tasks.map((t) => Math.round(t.total_g))).toEqual(goes);
});

// The main path: from a bed on the plan to a dose, the plan, the day sheet, the record. The steps
// build on one another.
import { execFileSync } from "node:child_process";
import { test, expect, faults, fillBed, unfold } from "./help.js";

const dose = (request) => JSON.parse(execFileSync("bin/zephyrfield", ["dose"], { input: request }).toString());

// option finds a way to meet the need by its own name, not that of a mix.
const option = (page, name) =>
  page.locator("label.opt").filter({ has: page.locator("b.name", { hasText: new RegExp(`^${name}$`) }) });

test("the demo opens on its finding and says that it is one", async ({ page }) => {
  await page.goto("/");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("3 beds sour, 2 too sweet (1 treated), 2 untested");
  await expect(page.locator("#demo-day")).toHaveText("Tue 24 Nov 2026");
  await expect(page.locator(".plan a")).toHaveCount(13);
  await expect(page.getByRole("group", { name: /The year/ })).toContainText("lime, Kale and roots");
  expect(await faults(page)).toEqual([]);
});

test("a bed chosen with the keyboard opens its slip, and back goes back", async ({ page }) => {
  await page.goto("/?bed=8");
  await page.locator("#bed-2").focus();
  await page.keyboard.press("Enter");
  await expect(page.locator("#slip-name")).toHaveText("Middle ledge");
  await expect(page.locator(".verdict")).toContainText("sour by 0.5");
  await expect(page.locator("#bed-2")).toBeFocused();
  await expect(page).toHaveURL(/bed=2/);
  await page.goBack();
  await expect(page.locator("#slip-name")).toHaveText("Kale and roots");
});

test("the date handle shows the garden on another day: keys, typed, dragged", async ({ page }) => {
  await page.goto("/?bed=3");
  await expect(page.locator("#handle")).toHaveAttribute("aria-valuetext", "24 Nov 2026");
  await page.keyboard.press("]");
  await expect(page.locator(".off-today")).toContainText("24 Dec 2026");
  await page.keyboard.press("]");
  await page.keyboard.press("]");
  await page.keyboard.press("]");
  await expect(page.locator(".off-today")).toContainText("24 Mar 2027");
  await expect(page.locator(".verdict")).toContainText("Should read 6.2");
  await expect(page.locator("#bed-3")).toHaveClass(/in-range/);
  await page.keyboard.press("t");
  await expect(page.locator(".off-today")).toHaveCount(0);
  await expect(page.locator(".verdict")).toContainText("Reads 5.9");
  await page.keyboard.press("{");
  await page.keyboard.press("{");
  await expect(page.locator(".off-today")).toContainText("24 Nov 2024");
  await expect(page.locator("#bed-7")).toHaveClass(/too-sweet/);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^4 beds sour/);
  expect(await faults(page)).toEqual([]);
  await page.locator("#bed-7").click();
  await expect(page).toHaveURL(/on=2024-11-24/);
  await expect(page.locator(".verdict")).toContainText("7.7");
  await page.locator("#on").fill("2026-11-24");
  await page.getByRole("button", { name: "Show", exact: true }).click();
  await expect(page.locator(".off-today")).toHaveCount(0);
  await expect(page.locator(".htmx-request")).toHaveCount(0); // the ribbon stands where it stays
  const size = await page.locator("#handle").boundingBox();
  // It is taken once it stands still: letters and buttons that come in may still move it.
  await page.locator("#handle").hover({ position: { x: size.width / 2, y: 6 } });
  const box = await page.locator("#handle").boundingBox();
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 300, box.y + 6, { steps: 5 });
  await page.mouse.up();
  await expect(page.locator(".off-today")).toContainText("2027");
  await page.locator("#handle").focus();
  const on = await page.locator("#handle").getAttribute("data-day");
  await page.keyboard.press("ArrowRight");
  await expect(page.locator("#handle")).not.toHaveAttribute("data-day", on);
  await expect(page.locator("#handle")).toBeFocused();
  await page.locator("#back-to-today").click();
  await expect(page.locator(".off-today")).toHaveCount(0);
});

test("the plan looks at potassium, tests and what is due, and a bed is found by name", async ({ page }) => {
  await page.goto("/?bed=2");
  await page.getByRole("link", { name: "Potassium", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("4 beds short of potassium");
  await expect(page.locator("#bed-2")).toHaveAttribute("aria-label", /potassium 82 ppm, short/);
  await page.getByRole("link", { name: "Last tested", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 beds not tested within a year");
  await page.getByRole("link", { name: "Due", exact: true }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("2 beds have something due");
  expect(await faults(page)).toEqual([]);
  await page.keyboard.press("/");
  await page.keyboard.type("quarry");
  await page.keyboard.press("Enter");
  await expect(page.locator("#slip-name")).toHaveText("Quarry end");
});

test("the target changed three times gives the amounts of the command line", async ({ page, request }) => {
  await page.goto("/beds/2/dose");
  expect(await faults(page)).toEqual([]);
  const before = await page.locator("#need").textContent();
  let last = before;
  for (const target of ["6.2", "6.35", "6.6"]) {
    await page.locator("#target").fill(target);
    await expect(page.locator("#need")).not.toHaveText(last);
    last = await page.locator("#need").textContent();
    await expect(page).toHaveURL(new RegExp(`target=${target.replace(".", "\\.")}`));
    const href = await page.locator("#json-link a").getAttribute("href");
    const answer = dose(await (await request.get(href)).body());
    const shown = await page.locator(".opt .amt[data-grams]").evaluateAll((els) => els.map((e) => e.dataset.grams));
    const sums = answer.options.map((o) => o.materials.reduce((sum, m) => sum + m.total_g, 0));
    expect(shown).toHaveLength(sums.length);
    // The parts of a mix are rounded each by itself.
    shown.forEach((grams, i) => {
      const mixed = answer.options[i].materials.length > 1;
      expect(Math.abs(parseFloat(grams) - sums[i])).toBeLessThanOrEqual(mixed ? 1 : 0);
    });
    const kilos = await page.locator(".opt .amt[data-grams]").first().textContent();
    expect(Math.abs(parseFloat(kilos) * 1000 - answer.options[0].materials[0].total_g)).toBeLessThanOrEqual(50);
    await expect(page.locator("#target")).toBeFocused();
  }
});

test("depth, method and material answer as they are changed", async ({ page }) => {
  await page.goto("/beds/2/dose");
  const need = page.locator("#need");
  const form = page.locator("#dose-form");
  await expect(need).toContainText("257 g/m²");
  await form.getByText("20 cm", { exact: true }).click();
  await expect(need).toContainText("343 g/m²");
  await form.getByText("Organic matter", { exact: true }).click();
  await expect(page.locator("#working")).toContainText("0.555 × 3.1 %");
  await form.getByText("Texture", { exact: true }).click();
  await option(page, "Oven ash, autumn batch").click();
  await expect(page.locator(".task-rows:not(.potassium) h3")).toHaveText("Oven ash, autumn batch: when");
  await expect(page.locator("#working")).toContainText("Potassium in the soil");
  await form.getByText("Dusting", { exact: true }).click();
  await expect(option(page, "Oven ash, autumn batch").locator(".amt").first()).toHaveText("7 scoops");
});

test("a bad target is answered at its field with the form still filled", async ({ page }) => {
  page.expectRefusal();
  await page.goto("/beds/2/dose");
  await page.getByText("20 cm", { exact: true }).click();
  await page.locator("#target").fill("65");
  await expect(page.locator("#target-fault")).toHaveText("A pH from 4.0 to 7.8 is needed.");
  await expect(page.locator("#target")).toHaveValue("65");
  await expect(page.locator("#depth-20")).toBeChecked();
  await expect(page.locator("#put")).toHaveCount(0);
  await page.locator("#target").fill("6.5");
  await expect(page.locator("#target-fault")).toHaveText("");
  await expect(page.locator("#put")).toBeVisible();
});

test("the applications are planned, one is ticked, and the chart shows it", async ({ page }) => {
  await page.goto("/beds/2/dose?target=6.4");
  await option(page, "Ground limestone").click();
  await page.locator("#put").click();
  await expect(page.locator("#flash")).toContainText(
    "Planned 1 application and a retest for Middle ledge; the rest waits for the test of 25 May 2027.",
  );
  await expect(page.locator(".next h3")).toHaveText("Planned");
  await page.locator("#tabs").getByRole("link", { name: "Day sheet" }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Ash and lime day: 3 beds/);
  expect(await faults(page)).toEqual([]);
  const job = page.locator(".job", { hasText: "Middle ledge" });
  await job.getByText("Other amount or day").click();
  await job.getByLabel("What was really put on").fill("2.1");
  await job.getByRole("button", { name: "Put on", exact: true }).click();
  await expect(page.locator("#flash")).toContainText("Put 2.1 kg of ground limestone on Middle ledge.");
  await expect(page.locator(".job.done")).toContainText("Middle ledge");
  await page.goto("/beds/2");
  await expect(page.locator(".chart .arrow title", { hasText: "24 Nov 2026: 2.1 kg of ground limestone" })).toHaveCount(
    1,
  );
  await expect(page.locator("#put-on tbody tr").first()).toContainText("2.1 kg");
});

test("a tick is undone from its message and done again as planned", async ({ page }) => {
  await page.goto("/sheet");
  const job = page.locator(".job", { hasText: "Lower ledge" });
  await expect(job.locator(".dots circle")).toHaveCount(12);
  await job.getByRole("button", { name: "Put on 12 scoops" }).click();
  await expect(page.locator(".job.done", { hasText: "Lower ledge" })).toBeVisible();
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back: Put 12 level scoops (1.2 kg)");
  await page.locator(".job", { hasText: "Lower ledge" }).getByRole("button", { name: "Put on 12 scoops" }).click();
  await expect(page.locator(".job.done", { hasText: "Lower ledge" })).toBeVisible();
});

test("a reading is refused at its field, then saved, and the bed is judged anew", async ({ page }) => {
  page.expectRefusal();
  await page.goto("/?bed=9");
  await page.getByRole("link", { name: "Add a reading" }).click();
  await expect(page.locator("#bed")).toHaveValue("9");
  await page.locator("#ph").fill("57");
  await page.locator("#k").fill("92");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#ph-fault")).toHaveText("A pH from 3 to 10 is needed.");
  await expect(page.locator("#ph")).toBeFocused();
  await expect(page.locator("#k")).toHaveValue("92");
  expect(await faults(page)).toEqual([]);
  await page.locator("#ph").fill("5.7");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#flash")).toContainText("Added a reading of New ground: pH 5.7 by lab.");
  await expect(page.locator(".verdict")).toContainText("sour by 0.3");
});

test("a bed is added, seen on the plan before it is saved", async ({ page }) => {
  page.expectRefusal();
  await page.goto("/beds/new");
  await page.locator("#name").fill("Middle ledge");
  await page.locator("#w").fill("3.5");
  await page.locator("#w").blur();
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator("#feel-fault")).toContainText("Squeeze a moist handful");
  await fillBed(page, "basil");
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator("#name-fault")).toHaveText("There is a bed of that name already; choose another.");
  await expect(page.locator("#w")).toHaveValue("3.5");
  await page.locator("#name").fill("Herb end");
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator("#slip-name")).toHaveText("Herb end");
  await expect(page.locator(".slip")).toContainText("4.2 m²");
  await expect(page.locator(".plan a")).toHaveCount(14);
});

test("a freehand bed is drawn from its corners, a crossing one is told, and the plan goes out and in", async ({
  page,
}) => {
  page.expectRefusal();
  await page.goto("/beds/new");
  await page.locator("#name").fill("Odd corner");
  await fillBed(page);
  await unfold(page, "Shape and place");
  await page.locator("#shape").selectOption("outline");
  await expect(page.locator("#w")).toBeHidden();
  await page.locator("#corners").fill("20 15\n24 17\n24 15\n20 17");
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator("#corners-fault")).toContainText("The outline crosses itself");
  await expect(page.locator("#corners")).toHaveValue("20 15\n24 17\n24 15\n20 17");
  await page.locator("#corners").fill("20 15\n24 15\n24 17\n20,0 17");
  await page.locator("#corners").blur();
  await expect(page.locator("#new-plan path.shape")).toHaveCount(1);
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator(".slip")).toContainText("8 m²");
  await page.goto("/keep");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Download the plan" }).click(),
  ]);
  await page.locator("#plan").setInputFiles(await file.path());
  await page.getByRole("button", { name: "Import it" }).click();
  await expect(page.locator("#flash")).toContainText("0 added");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back");
});

test("a bed is placed by mouse, by touch and by keys, and told what it lies over", async ({ page, browser }) => {
  await page.goto("/beds/new");
  const bed = page.locator("#bed--1");
  const x = page.locator("#x");
  const start = Number(await x.inputValue());
  let box = await bed.locator(".shape").boundingBox();
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width / 2 + 200, box.y + box.height / 2, { steps: 4 });
  await page.mouse.up();
  await expect(x).not.toHaveValue(String(start));
  expect(Number(await x.inputValue())).toBeGreaterThan(start + 5);

  const right = await x.inputValue();
  await bed.focus();
  await page.keyboard.press("ArrowRight");
  await expect(x).toHaveValue(String(Math.round((Number(right) + 0.1) * 1000) / 1000));
  await expect(bed).toBeFocused();
  await page.keyboard.press("Shift+ArrowDown");
  await expect(page.locator("#h")).toHaveValue("1.3");
  await page.keyboard.press(".");
  await expect(page.locator("#turn")).toHaveValue("5");
  await expect(page.locator("#bed--1 path.shape")).toHaveCount(1);
  await unfold(page, "Shape and place");
  await page.locator("#x").fill("1.2");
  await page.locator("#y").fill("2");
  await page.locator("#y").blur();
  await expect(page.locator("#new-plan .guard")).toContainText("Lies over Upper ledge");

  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const hand = await phone.newPage();
  await hand.goto("/beds/new");
  const touched = hand.locator("#bed--1");
  await touched.scrollIntoViewIfNeeded();
  const before = await hand.locator("#y").inputValue();
  box = await touched.locator(".shape").boundingBox();
  const finger = await phone.newCDPSession(hand);
  const at = (dx, dy) => [{ x: box.x + box.width / 2 + dx, y: box.y + box.height / 2 + dy }];
  await finger.send("Input.dispatchTouchEvent", { type: "touchStart", touchPoints: at(0, 0) });
  await finger.send("Input.dispatchTouchEvent", { type: "touchMove", touchPoints: at(5, -20) });
  await finger.send("Input.dispatchTouchEvent", { type: "touchMove", touchPoints: at(5, -40) });
  await finger.send("Input.dispatchTouchEvent", { type: "touchEnd", touchPoints: [] });
  await expect(hand.locator("#y")).not.toHaveValue(before);
  expect(Number(await hand.locator("#y").inputValue())).toBeLessThan(Number(before));
  await phone.close();
});

test("a soil temperature moves the windows of the year", async ({ page }) => {
  await page.goto("/");
  const sulfur = page.locator(".bar-sulfur title");
  const before = await sulfur.allTextContents();
  expect(before.join()).toContain("Before it, the soil is too cold for sulfur");
  expect(before.length).toBeGreaterThan(0);
  await page.goto("/place");
  expect(await faults(page)).toEqual([]);
  const warmer = [5, 6, 9, 13, 16, 18, 20, 20, 17, 13, 9, 6];
  for (const [m, t] of warmer.entries()) await page.locator(`#t${m + 1}`).fill(String(t));
  await page.getByRole("button", { name: "Save the settings" }).click();
  await expect(page.locator("#flash")).toContainText("Changed the place.");
  await page.goto("/");
  expect(await sulfur.allTextContents()).not.toEqual(before);
  await page.goto("/place");
  await page.locator("#t1").fill("cold");
  page.expectRefusal();
  await page.getByRole("button", { name: "Save the settings" }).click();
  await expect(page.locator("#temps-fault")).toHaveText("“cold” is not a number.");
  await expect(page.locator("#t2")).toHaveValue("6");
});

test("a bed is changed with the keyboard alone, its plan following", async ({ page }) => {
  await page.goto("/beds/6/edit");
  await expect(page.locator("#name")).toHaveValue("Quarry end");
  await page.locator("#w").focus();
  await page.keyboard.press("Control+a");
  await page.keyboard.type("5");
  const wide = page.locator('#new-plan a[aria-label^="Quarry end"] rect.shape');
  const before = await wide.getAttribute("width");
  await page.keyboard.press("Tab");
  await expect(wide).not.toHaveAttribute("width", before);
  await expect(
    page.locator('#new-plan a[aria-label^="Quarry end"]'),
    "it keeps its reading while it is changed",
  ).toContainText("7.8");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Save the bed" }).press("Enter");
  await expect(page.locator(".slip")).toContainText("14.5 m²");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).press("Enter");
  await expect(page.locator(".slip")).toContainText("21.8 m²");
});

test("the archive goes out and the demo's day moves on", async ({ page }) => {
  await page.goto("/keep");
  const [file] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("link", { name: "Download everything" }).click(),
  ]);
  expect(file.suggestedFilename()).toBe("zephyrfield-2026-11-24.json");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Next week" }).click();
  await expect(page.locator("#demo-day")).toHaveText("Tue 1 Dec 2026");
});

test("keys open pages and can be turned off", async ({ page }) => {
  await page.goto("/");
  await page.keyboard.press("g");
  await page.keyboard.press("s");
  await expect(page).toHaveURL(/\/sheet$/);
  await page.waitForLoadState();
  await page.keyboard.press("?");
  await expect(page.locator("#keys")).toBeVisible();
  await page.getByLabel("Use these keys").uncheck();
  await page.keyboard.press("Escape");
  await page.keyboard.press("g");
  await page.keyboard.press("b");
  await expect(page).toHaveURL(/\/sheet$/);
});

test("on a phone the day's work fits the hand", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/sheet");
  const wide = await page.evaluate(() => document.documentElement.scrollWidth);
  expect(wide).toBeLessThanOrEqual(390);
  for (const b of await page.locator(".job .buttons button:visible, .job .buttons summary:visible").all()) {
    expect((await b.boundingBox()).height).toBeGreaterThanOrEqual(48);
  }
  expect(await faults(page)).toEqual([]);
  for (const path of ["/", "/beds/2/dose", "/bench", "/keep"]) {
    await page.goto(path);
    expect(await page.evaluate(() => document.documentElement.scrollWidth), path).toBeLessThanOrEqual(390);
  }
});

test("every page works as a plain request without scripts", async ({ browser }) => {
  const context = await browser.newContext({ javaScriptEnabled: false });
  const page = await context.newPage();
  await page.goto("/");
  await page.locator("#bed-7").click();
  await expect(page.locator("#slip-name")).toHaveText("Cutting strip");
  await page.goto("/beds/3/dose");
  await page.locator("#target").fill("6.3");
  await page.getByRole("button", { name: "Work it out" }).click();
  await expect(page).toHaveURL(/target=6.3/);
  await context.close();
});

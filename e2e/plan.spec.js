// The plan by mouse, touch and keys; texture; crops; units; the date handle on every page.
import { test, expect, faults, fillBed, unfold } from "./help.js";

// phone opens a page of a phone with a finger that can touch it.
async function phone(browser) {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const hand = await context.newPage();
  const wire = await context.newCDPSession(hand);
  const send = (type, points) => wire.send("Input.dispatchTouchEvent", { type, touchPoints: points });
  const drag = async (locator, dx, dy) => {
    // The plan may be drawn anew while it is looked for.
    await expect(hand.locator(".htmx-request")).toHaveCount(0);
    let box = null;
    await expect(async () => {
      await locator.scrollIntoViewIfNeeded();
      box = await locator.boundingBox();
      expect(box).not.toBeNull();
    }).toPass();
    const at = (part) => [{ x: box.x + box.width / 2 + part * dx, y: box.y + box.height / 2 + part * dy }];
    await send("touchStart", at(0));
    await send("touchMove", at(0.4));
    await send("touchMove", at(1));
    await send("touchEnd", []);
  };
  return { hand, drag, close: () => context.close() };
}

async function mouseDrag(page, locator, dx, dy) {
  await expect(page.locator(".htmx-request")).toHaveCount(0); // the plan has followed what was done before
  await locator.hover();
  const box = await locator.boundingBox();
  const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
  await page.mouse.down();
  await page.mouse.move(x + dx / 2, y + dy / 2);
  await page.mouse.move(x + dx, y + dy);
  await page.mouse.up();
}

// The plan has followed what was done before, and lies where it will stay.
const settled = (page) =>
  expect(page.locator(".htmx-request, .htmx-swapping, .htmx-settling, .htmx-added")).toHaveCount(0);

const lines = async (page) => (await page.locator("#corners").inputValue()).split("\n").filter((l) => l);

test("an outline is drawn by mouse: set, dragged, taken out", async ({ page }) => {
  await page.goto("/beds/new");
  await page.locator("#name").fill("Kidney");
  await unfold(page, "Shape and place");
  await page.locator("#shape").selectOption("outline");
  const plan = page.locator("#new-plan svg.plan");
  await expect(page.locator("#new-plan .guard")).toContainText("An outline needs three corners or more.");
  await settled(page);
  for (const [n, [x, y]] of [
    [300, 340],
    [380, 330],
    [420, 360],
    [330, 370],
  ].entries()) {
    await plan.click({ position: { x, y } });
    await expect(page.locator("#new-plan .corner")).toHaveCount(n + 1);
  }
  expect((await lines(page)).length).toBe(4);
  const before = (await lines(page))[1];
  await mouseDrag(page, page.locator("#corner-1 .dot"), 30, -12);
  await expect(page.locator("#corners")).not.toHaveValue(new RegExp(before));
  await page.locator("#corner-3").focus();
  await page.keyboard.press("Delete");
  await expect(page.locator("#new-plan .corner")).toHaveCount(3);
  expect(await faults(page)).toEqual([]);
  await fillBed(page);
  await page.getByRole("button", { name: "Add the bed" }).click();
  await expect(page.locator("#slip-name")).toHaveText("Kidney");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back");
});

// heldBack keeps the next answer of the plan until it is let go, and tells when it has arrived.
async function heldBack(page) {
  let letGo;
  const until = new Promise((resolve) => {
    letGo = resolve;
  });
  await page.route(
    "**/beds/new?**",
    async (route) => {
      await until;
      await route.continue();
    },
    { times: 1 },
  );
  return async () => {
    const came = page.waitForResponse((r) => r.url().includes("/beds/new?")).then((r) => r.finished());
    letGo();
    await came;
    await page.evaluate(
      () =>
        new Promise((done) => {
          requestAnimationFrame(() => setTimeout(done));
        }),
    );
  };
}

test("an answer that comes while the plan is pressed or dragged loses neither", async ({ page }) => {
  await page.goto("/beds/new");
  await page.locator("#name").fill("Quick");
  const plan = page.locator("#new-plan svg.plan");
  let answer = await heldBack(page);
  await unfold(page, "Shape and place");
  await page.locator("#shape").selectOption("outline");
  const box = await plan.boundingBox();
  await page.mouse.move(box.x + 300, box.y + 340);
  await page.mouse.down();
  await answer();
  await page.mouse.up();
  await expect(page.locator("#new-plan .corner")).toHaveCount(1);
  await expect(page.locator("#new-plan .guard")).toContainText("An outline needs three corners or more.");
  await settled(page);
  expect((await lines(page)).length).toBe(1);

  // The name changes, and the corner is dragged before the plan shows it.
  answer = await heldBack(page);
  const [before] = await lines(page);
  await page.locator("#name").fill("Quicker");
  await page.locator("#name").blur();
  const dot = await page.locator("#corner-0 .dot").boundingBox();
  const [x, y] = [dot.x + dot.width / 2, dot.y + dot.height / 2];
  await page.mouse.move(x, y);
  await page.mouse.down();
  await page.mouse.move(x + 20, y);
  await answer();
  await page.mouse.move(x + 40, y);
  await page.mouse.up();
  await expect(page.locator("#corners")).not.toHaveValue(before);
  await settled(page);
  expect((await lines(page)).length).toBe(1);

  // Pressed beside every hold, where a press alone does nothing: the plan follows after it.
  answer = await heldBack(page);
  await page.locator("#shape").selectOption("rect");
  await page.mouse.move(box.x + 5, box.y + 5);
  await page.mouse.down();
  await answer();
  await expect(page.locator("#new-plan .corner")).toHaveCount(1);
  await page.mouse.up();
  await expect(page.locator("#new-plan .corner")).toHaveCount(0);
  expect((await lines(page)).length, "a bed that is no outline gets no corner").toBe(1);
  expect(await faults(page)).toEqual([]);
});

test("an outline is drawn by keys alone", async ({ page }) => {
  await page.goto("/beds/new");
  await page.locator("#name").focus();
  await page.keyboard.type("By keys");
  await page.locator("summary", { hasText: "Shape and place" }).press("Enter");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Tab");
  await page.keyboard.type("Free");
  await page.locator("[data-corner]").press("Enter");
  await expect(page.locator("#corner-0")).toBeFocused();
  const first = (await lines(page))[0].split(" ").map(Number);
  for (const n of [1, 2, 3]) {
    await page.locator("[data-corner]").press("Enter");
    await expect(page.locator(`#corner-${n}`)).toBeFocused();
  }
  // Four points in a row, of which two are carried down and back: 1 × 1 m.
  const row = await lines(page);
  expect(row.map((l) => Number(l.split(" ")[0]) - first[0]).map(Math.round)).toEqual([0, 1, 2, 3]);
  const carry = async (n, key, times) => {
    await page.locator(`#corner-${n}`).focus();
    for (let i = 0; i < times; i += 1) {
      const was = await page.locator("#corners").inputValue();
      await page.keyboard.press(key);
      await expect(page.locator("#corners")).not.toHaveValue(was);
      await expect(page.locator(`#corner-${n}`)).toBeFocused();
    }
  };
  await carry(2, "Shift+ArrowDown", 1);
  await carry(2, "Shift+ArrowLeft", 1);
  await carry(3, "Shift+ArrowDown", 1);
  await carry(3, "Shift+ArrowLeft", 3);
  await fillBed(page);
  await page.getByRole("button", { name: "Add the bed" }).press("Enter");
  await expect(page.locator(".slip")).toContainText("1 m²");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).press("Enter");
  await expect(page.locator("#flash")).toContainText("Taken back");
});

test("on a phone an outline is drawn by taps, its corner dragged, a bed sized and turned by its grips", async ({
  browser,
}) => {
  const { hand, drag, close } = await phone(browser);
  await hand.goto("/beds/new");
  await unfold(hand, "Shape and place");
  await hand.locator("#shape").selectOption("outline");
  await expect(hand.locator("#new-plan .guard")).toContainText("three corners");
  await settled(hand);
  const plan = hand.locator("#new-plan svg.plan");
  await plan.scrollIntoViewIfNeeded();
  for (const [n, [x, y]] of [
    [60, 150],
    [110, 150],
    [110, 175],
  ].entries()) {
    await plan.tap({ position: { x, y } });
    await expect(hand.locator("#new-plan .corner")).toHaveCount(n + 1);
  }
  const before = await hand.locator("#corners").inputValue();
  await drag(hand.locator("#corner-2 .hold"), 15, 8);
  await expect(hand.locator("#corners")).not.toHaveValue(before);
  expect((await lines(hand)).slice(0, 2)).toEqual(before.split("\n").slice(0, 2));

  await hand.goto("/beds/new");
  await hand.getByRole("button", { name: "Clear it" }).tap(); // the outline was kept as it was left
  await drag(hand.locator("#grip-size .hold"), 20, 10);
  await expect(hand.locator("#w")).not.toHaveValue("4");
  expect(Number(await hand.locator("#w").inputValue())).toBeGreaterThan(4);
  await drag(hand.locator("#grip-turn .hold"), 40, 10);
  await expect(hand.locator("#turn")).not.toHaveValue("0");
  await close();
});

test("a bed is sized and turned by its grips, by mouse and by keys", async ({ page }) => {
  await page.goto("/beds/new");
  await mouseDrag(page, page.locator("#grip-size .dot"), 50, 20);
  await expect(page.locator("#w")).not.toHaveValue("4");
  const w = Number(await page.locator("#w").inputValue());
  expect(w).toBeGreaterThan(5);
  await page.locator("#grip-size").focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.locator("#w")).toHaveValue(String(Math.round((w + 0.1) * 1000) / 1000));
  await mouseDrag(page, page.locator("#grip-turn .dot"), 80, 60);
  await expect(page.locator("#turn")).not.toHaveValue("0");
  const turn = Number(await page.locator("#turn").inputValue());
  expect(turn % 5).toBe(0);
  await page.locator("#grip-turn").focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.locator("#turn")).toHaveValue(String((turn + 5) % 360));
  await expect(page.locator("#grip-turn")).toBeFocused();
  expect(await faults(page)).toEqual([]);
});

test("the soil is found by the jar, its levels moved by keys and by touch, and by feel", async ({ page, browser }) => {
  await page.goto("/beds/new");
  await expect(page.locator("#jar")).toBeHidden();
  await page.locator("#texture_by").selectOption("jar");
  await expect(page.locator("#texture")).toBeHidden();
  await expect(page.locator("#soil-found")).toContainText("Loam, 20 % clay.");
  await page.locator("#level-clay").focus();
  await page.keyboard.press("PageUp");
  await expect(page.locator("#jar_clay")).toHaveValue("34");
  await expect(page.locator("#level-clay")).toBeFocused();
  await page.locator("#jar_sand").fill("10");
  await page.locator("#jar_sand").blur();
  await expect(page.locator("#soil-found")).toContainText("Silty clay loam, 37 % clay; counted as clay loam.");
  expect(await faults(page)).toEqual([]);
  await page.locator("#texture_by").selectOption("feel");
  await page.getByText("holds, then crumbles").click();
  await expect(page.locator("#soil-found")).toContainText("Loam, by feel.");
  await unfold(page, "More on the soil");
  await page.locator("#feel_rub").selectOption("gritty");
  await expect(page.locator("#soil-found")).toContainText("Sandy loam, by feel.");

  const { hand, drag, close } = await phone(browser);
  await hand.goto("/beds/new");
  await hand.locator("#texture_by").selectOption("jar");
  await expect(hand.locator("#soil-found")).toContainText("Loam");
  await drag(hand.locator("#level-clay .hold"), 0, -24);
  await expect(hand.locator("#jar_clay")).not.toHaveValue("24");
  expect(Number(await hand.locator("#jar_clay").inputValue())).toBeGreaterThan(35);
  await close();
});

test("a path is drawn, changed and taken off again", async ({ page, browser }) => {
  await page.goto("/");
  const before = await page.locator(".plan .mark").count();
  await page.getByRole("link", { name: "Paths and walls" }).click();
  const plan = page.locator("#new-plan svg.plan");
  for (const [n, [x, y]] of [
    [60, 330],
    [200, 330],
    [200, 360],
  ].entries()) {
    await plan.click({ position: { x, y } });
    await expect(page.locator("#new-plan .corner")).toHaveCount(n + 1);
  }
  await page.locator("#name").fill("Back path");
  await page.locator("#corner-1").focus();
  await page.keyboard.press("ArrowUp");
  await expect(page.locator("#corner-1")).toBeFocused();
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Draw it" }).click();
  await expect(page.locator("#flash")).toContainText("Drew Back path");
  await page.goto("/");
  await expect(page.locator(".plan .mark")).toHaveCount(before + 1);
  await page.goto("/marks");
  await page.getByRole("button", { name: "Delete Back path" }).press("Enter");
  await expect(page.locator("#flash")).toContainText("Took Back path off the plan");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("link", { name: "Back path" })).toBeVisible();
  await page.getByRole("button", { name: "Delete Back path" }).click();

  const { hand, close } = await phone(browser);
  await hand.goto("/marks");
  const small = hand.locator("#new-plan svg.plan");
  await small.scrollIntoViewIfNeeded();
  await small.tap({ position: { x: 40, y: 170 } });
  await expect(hand.locator("#new-plan .corner")).toHaveCount(1);
  await close();
});

test("a crop of one's own stands with another, and a clash is named on the plan", async ({ page }) => {
  await page.goto("/crops");
  await page.locator("#name").fill("Scented stock");
  await page.locator("#low").fill("6.4");
  await page.locator("#high").fill("7.4");
  await page.locator("#removal").fill("8");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Add the crop" }).click();
  await expect(page.locator("#crops")).toContainText("Scented stock");

  await page.goto("/beds/9");
  const add = async (crop) => {
    await page.locator("#crop").selectOption(crop);
    await page.locator("#sown").fill("2027-05-10");
    await page.locator("#together").check();
    await page.getByRole("button", { name: "Add the crop" }).click();
    await expect(page.locator("#flash")).toBeVisible();
  };
  await add("scented-stock");
  await page.goto("/?bed=9");
  await expect(page.locator(".slip")).toContainText("General vegetables and Scented stock next");
  await page.goto("/beds/9");
  await add("blueberry");
  await page.goto("/?bed=9");
  await expect(page.locator("#bed-9")).toContainText("clash");
  await expect(page.locator("#bed-9")).toHaveAttribute("aria-label", /Scented stock and blueberry need different soil/);
  await expect(page.locator(".slip")).toContainText(/Scented stock and blueberry need different soil|no pH suits both/);
  await expect(page.locator("h1")).toContainText("1 clash of crops");
  expect(await faults(page)).toEqual([]);
});

test("a sowing moves the windows of the year", async ({ page }) => {
  await page.goto("/");
  const lime = page.locator(".bar-lime title");
  const before = await lime.allTextContents();
  for (const id of [1, 2, 3, 4, 6, 7, 8, 9]) {
    await page.goto(`/beds/${id}`);
    await page.locator("#crop").selectOption("pea");
    await page.locator("#sown").fill("2027-02-20");
    await page.getByRole("button", { name: "Add the crop" }).click();
    await expect(page.locator("#flash")).toContainText("Pea on");
  }
  await page.goto("/");
  const after = await lime.allTextContents();
  expect(after).not.toEqual(before);
  for (let i = 0; i < 8; i += 1) {
    await page.goto("/keep");
    await page
      .locator("tr", { hasText: "Pea on", hasNotText: "Taken back" })
      .getByRole("button", { name: "Undo" })
      .first()
      .click();
    await expect(page.locator("#flash")).toContainText("Taken back");
  }
  await page.goto("/");
  expect(await lime.allTextContents()).toEqual(before);
});

test("feet, inches and pounds are read and typed where they are chosen", async ({ page }) => {
  await page.goto("/place");
  const chosen = [
    ["area_unit", "ft2"],
    ["depth_unit", "in"],
    ["weight_unit", "lb"],
    ["rate_unit", "lb-100ft2"],
  ];
  for (const [unit, id] of chosen) await page.locator(`#${unit}`).selectOption(id);
  await page.getByRole("button", { name: "Save the settings" }).click();
  await page.goto("/beds/2/dose?target=6.5");
  await expect(page.locator("#need")).toContainText("lb/100 ft² of lime, as pure lime");
  await expect(page.locator("#working")).toContainText("(5.27 lb/100 ft²)");
  await page.goto("/beds/2/edit");
  await expect(page.locator("#w")).toHaveValue("20.997");
  const start = Number(await page.locator("#x").inputValue());
  await page.locator("#bed--1").focus();
  await page.keyboard.press("ArrowRight");
  await expect(page.locator("#x")).toHaveValue(String(Math.round((start + 0.1) * 1000) / 1000));
  await page.goto("/place");
  for (const unit of ["area_unit", "depth_unit", "weight_unit", "rate_unit"])
    await page.locator(`#${unit}`).selectOption("");
  await page.getByRole("button", { name: "Save the settings" }).click();
  await expect(page.locator("#flash")).toContainText("Changed the place.");
});

test("the handle moves the day on every page, and what was typed on the bench stays", async ({ page }) => {
  for (const path of [
    "/beds/2/dose",
    "/sheet",
    "/bench",
    "/beds/2",
    "/place",
    "/keep",
    "/crops",
    "/beds/new",
    "/beds/2/edit",
    "/marks",
    "/walk",
    "/walk/1",
    "/walk/1/labels",
    "/bench/lab",
  ]) {
    await page.goto(path);
    const day = await page.locator("#handle").getAttribute("data-day");
    await page.locator("#handle").focus();
    await page.keyboard.press("PageDown");
    await expect(page.locator("#handle"), path).not.toHaveAttribute("data-day", day);
    await expect(page.locator("#handle")).toBeFocused();
    await page.locator("h1").first().click();
    await page.keyboard.press("t");
    await expect(page.locator("#handle")).toHaveAttribute("data-day", day);
  }
  await page.goto("/beds/new");
  await page.locator("#name").fill("Bean end");
  await page.locator("#handle").focus();
  await page.keyboard.press("PageDown");
  await expect(page.locator("#new-plan")).toContainText("The other beds as of");
  await expect(page.locator("#name")).toHaveValue("Bean end");
  expect(await faults(page)).toEqual([]);
  await page.goto("/bench");
  await page.locator("#ph").fill("6.3");
  await page.locator("#handle").focus();
  await page.keyboard.press("PageDown");
  await expect(page.locator(".off-today")).toContainText("you can look, not change anything");
  await expect(page.locator("#ph")).toHaveValue("6.3");
  expect(await faults(page)).toEqual([]);
  await page.locator("#back-to-today").click();
  await page.goto("/sheet");
  await page.locator("#on").fill("2027-02-15");
  await page.getByRole("button", { name: "Show" }).click();
  await expect(page.locator("#main")).toContainText("Kale and roots");
  await expect(page.getByRole("button", { name: /^Put on/ })).toHaveCount(0);
});

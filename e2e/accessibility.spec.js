// Accessibility: light and dark, doubled text, narrow to wide windows, touch targets.
import { test, expect, faults, unfold } from "./help.js";

const pages = [
  "/",
  "/walk?asked=1",
  "/bench",
  "/beds/2/dose",
  "/shed",
  "/sheet",
  "/seasons",
  "/place",
  "/crops",
  "/years",
  "/log",
  "/keep",
  "/beds",
  "/help",
  "/beds/2",
  "/beds/2/try",
  "/beds/new",
  "/shed/share",
  "/bucket",
  "/days",
  "/warmth",
  "/marks",
  "/dose/many",
  "/bench/lab",
  "/beds/2/mix",
  "/beds/2/learned",
  "/beds/1/turn",
  "/beds/7/side",
  "/seasons/report",
  "/shed/ash",
  "/shed/bag",
  "/begin",
];

const wide = (page) => page.evaluate(() => document.documentElement.scrollWidth);

test("axe finds nothing serious on any page after dark, and no page is wider than its window", async ({ page }) => {
  test.setTimeout(300_000);
  await page.emulateMedia({ colorScheme: "dark", reducedMotion: "reduce" });
  for (const path of pages) {
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.goto(path);
    expect(await faults(page), `${path} after dark`).toEqual([]);
    for (const width of [360, 768, 1920]) {
      await page.setViewportSize({ width, height: 800 });
      expect(await wide(page), `${path} at ${width}`).toBeLessThanOrEqual(width);
      await page.evaluate(() =>
        document.querySelectorAll("main details").forEach((d) => {
          d.open = true;
        }),
      );
      expect.soft(await wide(page), `${path} at ${width}, all folds open`).toBeLessThanOrEqual(width);
    }
  }
});

test("at twice the text nothing is cut off or wider than the window, and axe is content", async ({
  browser,
  baseURL,
}) => {
  test.setTimeout(300_000);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, baseURL });
  const page = await context.newPage();
  const client = await context.newCDPSession(page);
  await client.send("Page.setFontSizes", { fontSizes: { standard: 32, fixed: 26 } }); // the browser's own setting
  for (const path of pages) {
    await page.goto(path);
    expect.soft(await wide(page), path).toBeLessThanOrEqual(1280);
    expect.soft(await page.evaluate(() => getComputedStyle(document.body).fontSize), path).toBe("30px");
    expect.soft(await faults(page), path).toEqual([]);
  }
  await context.close();
});

test("on a phone every target is large enough for a thumb", async ({ page }) => {
  test.setTimeout(180_000);
  await page.setViewportSize({ width: 390, height: 844 });
  const field = ["/walk?asked=1", "/bench", "/sheet"];
  for (const path of [...field, "/", "/beds/2/dose", "/shed", "/seasons", "/beds", "/begin"]) {
    await page.goto(path);
    const least = field.includes(path) ? 48 : 44;
    const small = await page.evaluate(
      (px) =>
        [
          ...document.querySelectorAll(
            "main button, main .button, main summary, main select, " +
              "main input:not([type=hidden], [type=radio], [type=checkbox]), #foot-bar a, #foot-bar summary",
          ),
        ]
          .filter(
            (el) =>
              el.checkVisibility({ checkOpacity: true }) &&
              el.getBoundingClientRect().width > 1 &&
              !el.matches(".tell, .as-table *") &&
              !el.closest("svg, table, .day-form"),
          )
          .map((el) => [el.textContent.trim().slice(0, 24) || el.id, el.getBoundingClientRect()])
          .filter(([, r]) => r.height < px - 0.5 || r.width < px - 0.5)
          .map(([name, r]) => `${name} ${Math.round(r.width)}×${Math.round(r.height)}`),
      least,
    );
    expect.soft(small, path).toEqual([]);
  }
});

test("the first of a house word tells what it means, and the list of keys leads to Help", async ({ page }) => {
  await page.goto("/");
  await page.locator(".legend .tell", { hasText: "too sweet" }).click();
  await expect(page.locator("#tell-sweet")).toBeVisible();
  await expect(page.locator("#tell-sweet")).toContainText("Above the pH that the crop likes best");
  expect(await page.locator('.tell[popovertarget="tell-sour"]').count()).toBe(1);
  await page.keyboard.press("Escape");
  await expect(page.locator("#tell-sweet")).toBeHidden();
  await page.keyboard.press("?");
  await page.getByRole("link", { name: /^Help: the words/ }).click();
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("How do I …");
  expect(await faults(page)).toEqual([]);
});

test("the field's pages open again without a signal, and say that they are kept copies", async ({ page, context }) => {
  await page.goto("/sheet");
  await page.evaluate(() => navigator.serviceWorker.ready);
  await page.goto("/bench");
  await page.goto("/sheet");
  await expect(page.locator(".kept-copy")).toHaveCount(0);
  const first = await page.locator("section.job h2").first().textContent();
  await context.setOffline(true);
  await page.reload();
  await expect(page.locator(".kept-copy")).toContainText("No signal. This page was kept here on");
  await expect(page.locator("section.job h2").first()).toHaveText(first);
  await page.goto("/bench");
  await expect(page.locator(".kept-copy")).toBeVisible();
  expect(await page.evaluate(() => getComputedStyle(document.body).display), "with its style").toBe("flex");
  await context.setOffline(false);
  await expect(page.locator(".kept-copy"), "gone with the signal, unasked").toHaveCount(0);
});

test("what was typed is kept over a reload and Back, until it is saved or cleared", async ({ page }) => {
  await page.goto("/beds/3/edit");
  await unfold(page, "More on the soil");
  await unfold(page, "its past");
  await page.locator("#depth").fill("17");
  await page.locator("#note").fill("Half of a thought");
  await page.reload();
  await expect(page.locator(".draft-kept")).toContainText("What you had typed here is kept");
  await expect(page.locator("#depth"), "its fold is opened").toBeVisible();
  await expect(page.locator("#depth")).toHaveValue("17");
  await expect(page.locator("#note")).toHaveValue("Half of a thought");
  await page.goto("/sheet");
  await page.goBack();
  await expect(page.locator("#note")).toHaveValue("Half of a thought");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Clear it" }).click();
  await expect(page.locator("#depth")).toHaveValue("15");
  await page.locator("#depth").fill("18");
  await page.locator("#depth").blur();
  await expect(page.locator("#soil-says"), "the fold says what was typed").toContainText("18 cm");
  await page.getByRole("button", { name: "Save the bed" }).click();
  await expect(page.locator("#flash")).toContainText("Changed Lower ledge");
  await page.goto("/beds/3/edit");
  await expect(page.locator(".draft-kept")).toHaveCount(0);
  await expect(page.locator("details", { hasText: "More on the soil" }).locator("summary b")).toContainText("18 cm");
  await expect(page.locator("#depth")).toHaveValue("18");
});

test("what is printed bears no buttons and no fields", async ({ page }) => {
  for (const path of [
    "/",
    "/beds/2",
    "/beds/2/dose",
    "/sheet",
    "/shed",
    "/seasons?bed=2",
    "/seasons/report",
    "/years",
    "/log",
    "/help",
    "/beds",
  ]) {
    await page.goto(path);
    await page.emulateMedia({ media: "print" });
    expect
      .soft(
        await page.evaluate(() =>
          [...document.querySelectorAll("button:not(.tell), .button, select, textarea, " + "input:not([type=hidden])")]
            .filter((el) => el.checkVisibility() && el.getBoundingClientRect().width > 1)
            .map((el) => el.id || el.name || el.textContent.trim().slice(0, 20)),
        ),
        path,
      )
      .toEqual([]);
    await page.emulateMedia({ media: "screen" });
  }
});

test("a draft is of its own bed, and what was refused and then saved is no draft any more", async ({ page }) => {
  await page.goto("/bench?bed=2");
  await page.locator("#ph").fill("5.9");
  await page.goto("/bench?bed=3");
  await expect(page.locator(".draft-kept")).toHaveCount(0);
  await expect(page.locator("#bed")).toHaveValue("3");
  await page.goto("/bench?bed=2");
  await expect(page.locator("#ph")).toHaveValue("5.9");
  await page.locator("#ph").fill("59");
  page.expectRefusal();
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#ph-fault")).not.toBeEmpty();
  await page.locator("#ph").fill("5.9");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#flash")).toContainText("Added a reading of Middle ledge");
  await page.goto("/bench?bed=2");
  await expect(page.locator(".draft-kept")).toHaveCount(0);
  await expect(page.locator("#ph")).toHaveValue("");
});

test("fields beside each other stand level, with long labels and with what is wrong below one", async ({ page }) => {
  const uneven = () =>
    page.evaluate(() => {
      const fields = [...document.querySelectorAll("#reading-form .fields input, #reading-form .fields select")]
        .filter((f) => f.offsetParent && f.labels.length > 0 && !f.closest(".wide:not(details)"))
        .map((f) => ({
          name: f.id,
          top: f.getBoundingClientRect().top,
          foot: f.getBoundingClientRect().bottom,
          out: f.getBoundingClientRect().right - f.parentElement.getBoundingClientRect().right,
        }));
      const beside = (a, b) => a !== b && a.top < b.foot && b.top < a.foot && Math.abs(a.top - b.top) > 1;
      return fields.filter((a) => a.out > 1 || fields.some((b) => beside(a, b))).map((f) => f.name);
    });
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 844 });
    await page.goto("/bench?bed=2");
    for (const way of ["lab", "meter", "kit"]) {
      await page.locator(`label[for=way-${way}]`).click();
      await page.evaluate(() =>
        document.querySelectorAll("details.more").forEach((d) => {
          d.open = true;
        }),
      );
      expect(await uneven(), `${way}, ${width} wide`).toEqual([]);
    }
    await page.locator("label[for=way-lab]").click();
    await page.locator("#ph").fill("6.1");
    await page.locator("#buffer_ph").fill("6.4");
    page.expectRefusal();
    await page.getByRole("button", { name: "Save the reading" }).click();
    await expect(page.locator("#buffer_ph-fault, #buffer_kind-fault").filter({ hasText: /./ })).toBeVisible();
    expect(await uneven(), `with what is wrong, ${width} wide`).toEqual([]);
  }
});

// The day sheet: left for nine weeks, offline, and after a lab's file.
import { test, expect, faults } from "./help.js";

const weeks = async (page, n) => {
  for (let i = 0; i < n; i += 1) {
    const day = await page.locator("#demo-day").textContent();
    await page.getByRole("button", { name: "Next week" }).click();
    await expect(page.locator("#demo-day")).not.toHaveText(day);
  }
};
const job = (page, bed) => page.locator(".job", { hasText: bed });

test("the demo is left for nine weeks and caught up with: goes never stack", async ({ page }) => {
  await page.goto("/sheet");
  await weeks(page, 9);
  await page.goto("/sheet");
  await expect(page.getByRole("heading", { level: 1 })).toHaveText("Ash and lime day: 2 beds, 6.9 kg");
  // The second go of the ledge was planned for mid January: it is not on the sheet.
  await expect(job(page, "Lower ledge")).toHaveCount(1);
  await expect(page.locator(".coming")).toContainText(
    "23 Mar 2027, 12 level scoops (1.2 kg) of oven ash, autumn batch on Lower ledge (moved from",
  );
  expect(await faults(page)).toEqual([]);
  const ledge = job(page, "Lower ledge");
  await ledge.getByText("Other amount or day").click();
  await ledge.getByLabel("On", { exact: true }).fill("2027-01-25");
  await ledge.getByLabel("Note, for the record").fill("Calm and dry.");
  await ledge.getByRole("button", { name: "Put on", exact: true }).click();
  await expect(page.locator("#flash")).toContainText(
    "Put 12 level scoops (1.2 kg) of oven ash, autumn batch on Lower ledge, 25 Jan 2027.",
  );
  await expect(page.locator(".coming")).toContainText("22 Mar 2027");
  await job(page, "Kale and roots").getByRole("button", { name: "Put on 5.7 kg" }).click();
  await expect(page.locator("#flash")).toContainText("Put 5.7 kg");
  await page.goto("/?bed=3");
  await expect(page.locator(".next")).toContainText("22 Mar");
  // What stands in the year is as far apart as the sheet says.
  await weeks(page, 8);
  await page.goto("/sheet");
  const second = job(page, "Lower ledge");
  await expect(second.getByRole("button", { name: "Put on 12 scoops" })).toBeVisible();
  await second.getByRole("button", { name: "Put on 12 scoops" }).click();
  await expect(page.locator("#flash")).toContainText("Put 12 level scoops (1.2 kg)");
});

test("a tick past the cap is stopped in words, with what was typed", async ({ page }) => {
  page.expectRefusal();
  await page.goto("/sheet");
  const ledge = job(page, "Lower ledge");
  await ledge.getByText("Other amount or day").click();
  await ledge.getByLabel("What was really put on").fill("40");
  await ledge.getByRole("button", { name: "Put on", exact: true }).click();
  await expect(ledge.locator(".fault").first()).toContainText(
    "this bed takes at one time. If it is on the bed already, note it on the bed’s record.",
  );
  await expect(ledge.getByLabel("What was really put on")).toHaveValue("40");
  await expect(ledge.getByLabel("What was really put on")).toBeFocused();
  expect(await faults(page)).toEqual([]);
});

test("the day's sheet loses its signal, and nothing is lost or doubled", async ({ browser, baseURL }) => {
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true, baseURL });
  const page = await phone.newPage();
  const wrong = [];
  page.on("pageerror", (e) => wrong.push(e.message));
  await page.goto("/sheet");
  await phone.setOffline(true);
  await job(page, "Lower ledge").getByRole("button", { name: "Put on 12 scoops" }).tap();
  await expect(job(page, "Lower ledge").locator(".kept")).toContainText(
    "12 scoops put on; kept here until there is a signal.",
  );
  await expect(page.locator("#signal")).toContainText("No signal: 1 entry is kept here");
  const kale = job(page, "Kale and roots");
  await kale.getByText("Skip", { exact: true }).tap();
  await kale.getByLabel("Why not (for the record)").fill("Too wet.");
  await kale.getByRole("button", { name: "Skip it" }).tap();
  await expect(kale.locator(".kept")).toContainText("Skipped; kept here until there is a signal.");
  await kale.getByRole("button", { name: "Take back" }).tap();
  await expect(kale.locator(".kept")).toHaveCount(0);
  await kale.getByText("Other amount or day").tap();
  await kale.getByLabel("What was really put on").fill("5.5");
  await kale.getByLabel("Note, for the record").fill("By hand.");
  await kale.getByRole("button", { name: "Put on", exact: true }).tap();
  await expect(kale.locator(".kept")).toContainText("5.5 kg put on; kept here until there is a signal.");
  await expect(job(page, "Lower ledge").locator(".big")).toContainText("12", { timeout: 1000 });

  // The answer to the first is lost on its way: it is sent again and taken once.
  await phone.route(
    "**/put-on",
    async (route) => {
      await route.fetch();
      await route.abort("connectionreset");
    },
    { times: 1 },
  );
  await phone.setOffline(false);
  await expect(page.locator("#flash")).toContainText("Put 5.5 kg of ground limestone on Kale and roots", {
    timeout: 30_000,
  });
  await expect(page.locator(".job.done")).toHaveCount(2);
  await expect(page.locator(".job.done", { hasText: "Kale and roots" })).toContainText("5.5 kg put on: By hand.");
  await page.goto("/beds/3");
  await expect(page.locator("#put-on tbody tr", { hasText: "24 Nov 2026" })).toHaveCount(1);
  expect(wrong).toEqual([]);
  await phone.close();
});

test("a lab's file in pounds an acre is read by its own heads", async ({ page }) => {
  const file = (text) => ({ name: "report.csv", mimeType: "text/csv", buffer: Buffer.from(text) });
  await page.goto("/bench/lab");
  await page
    .locator("#file")
    .setInputFiles(
      file(
        "Report of a made-up laboratory\n\nBed,Sampled,pH,K (lb/acre),Mg,Ca ppm\n" +
          'New ground,03/04/2026,5.9,184,92,"1,250"\nUpper ledge,04/03/2026,6.5,240,96,1640\n',
      ),
    );
  await page.getByRole("button", { name: "Read the file" }).click();
  await expect(page.getByText("title lines above the heads are left out.")).toBeVisible();
  await expect(page.getByLabel("In what unit column 4")).toHaveValue("lb-acre");
  await expect(page.locator(".guard.stop li")).toHaveText([
    "Line 3, Mg: in what unit is it? Choose it under the head.",
  ]);
  expect(await faults(page)).toEqual([]);
  await page.getByLabel("In what unit column 5").selectOption("ppm");
  await expect(page.locator(".guard.stop li").first()).toContainText("may be");
  await page.locator("#dates").selectOption("dmy");
  await expect(page.locator(".guard.stop")).toHaveCount(0);
  await page.getByRole("button", { name: "Import all 2" }).click();
  await expect(page.locator("#flash")).toContainText("Imported report.csv: 2 readings.");
  await page.goto("/beds/9");
  await expect(page.locator("[aria-labelledby=readings]")).toContainText("92 ppm");
  await expect(page.locator("[aria-labelledby=readings]")).toContainText("3 Apr 2026");
});

test("a reading far from the last is asked about once", async ({ page }) => {
  page.expectRefusal();
  await page.goto("/bench?bed=3");
  await page.locator("#ph").fill("7.9");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#ph-fault")).toContainText("Sure?");
  await expect(page.locator("#ph")).toHaveValue("7.9");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#flash")).toContainText("Added a reading of Lower ledge: pH 7.9 by lab.");
});

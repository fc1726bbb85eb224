// A sampling round on a phone over the home network, offline in the middle: nothing lost or
// repeated.
import { spawn, spawnSync } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { networkInterfaces, tmpdir } from "node:os";
import { join } from "node:path";
import { test, expect, faults, answers } from "./help.js";

const here = Object.values(networkInterfaces())
  .flat()
  .find((n) => n.family === "IPv4" && !n.internal);
const address = `http://${here ? here.address : "127.0.0.1"}:8119`;
const passphrase = "a long walk past the beds";

// garden serves the demo's records as a gardener's own, on an address that is
// not loopback.
const garden = async (archive) => {
  const folder = mkdtempSync(join(tmpdir(), "zephyrfield-walk-"));
  const file = join(folder, "garden.db");
  const tell = (args, input) => {
    const done = spawnSync("bin/zephyrfield", args, { input, encoding: "utf8" });
    if (done.status !== 0) throw new Error(done.stderr);
  };
  tell(["import", "--data", file], archive);
  tell(["passphrase", "--data", file], `${passphrase}\n${passphrase}\n`);
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", address.slice("http://".length)]);
  await answers(`${address}/sign-in`);
  const stop = () =>
    new Promise((done) => {
      program.on("exit", () => {
        rmSync(folder, { recursive: true });
        done();
      });
      program.kill("SIGTERM");
    });
  return { stop };
};

test("a round is walked on a phone, the signal lost in the middle, nothing lost or doubled", async ({
  browser,
  request,
}) => {
  const own = await garden(await (await request.get("/export/garden.json")).text());
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const page = await phone.newPage();
  const wrong = [];
  page.on("pageerror", (e) => wrong.push(e.message));
  try {
    await page.goto(address);
    await page.locator("input[type=password]").fill(passphrase);
    await page.locator("input[type=password]").press("Enter");
    await page.goto(`${address}/walk?asked=1`);
    expect(await page.evaluate(() => typeof crypto.randomUUID), "a plain address has none").toBe(
      here ? "undefined" : "function",
    );
    await page.getByRole("checkbox", { name: /^New ground/ }).check();
    await expect(page.locator("#samples")).toContainText("1 sample, 12 cores");
    expect(await faults(page)).toEqual([]);
    await page.getByRole("button", { name: "Set out" }).tap();
    await expect(page.locator("#left")).toHaveText("12 cores to take");
    expect(await faults(page)).toEqual([]);
    for (const b of await page.locator(".core-button").all()) {
      const box = await b.boundingBox();
      expect(Math.min(box.height, box.width)).toBeGreaterThanOrEqual(48);
    }
    const core = (n) => page.locator(".core-button", { hasText: new RegExp(`^${n}$`) });
    for (const n of [1, 2, 3]) await core(n).tap();
    await expect(page.locator("#left")).toHaveText("9 cores to take");
    await expect(page.locator("#signal")).toBeHidden();

    await phone.setOffline(true);
    for (const n of [4, 5, 6, 7]) await core(n).tap();
    await page.getByLabel("Anything odd here").fill("Old roots at the north end.");
    await page.getByRole("button", { name: "Note" }).tap();
    await expect(page.locator("#signal")).toContainText("5 entries are kept here");
    await expect(page.locator("#left")).toHaveText("5 cores to take");
    await expect(page.locator(".core-place.taken")).toHaveCount(7);

    // A post that did arrive, but whose answer was lost, is sent again.
    await phone.setOffline(false);
    await phone.route(
      "**/tick",
      async (route) => {
        await route.fetch();
        await route.abort("connectionreset");
      },
      { times: 2 },
    );
    await expect(page.locator("#signal")).toBeHidden({ timeout: 20_000 });
    await phone.setOffline(true);
    for (const n of [8, 9]) await core(n).tap();
    await expect(page.locator("#signal")).toContainText("2 entries are kept here");
    await phone.setOffline(false);
    await page.reload(); // the phone was put away and taken out again
    await expect(page.locator("#signal")).toBeHidden({ timeout: 20_000 });
    await expect(page.locator("#left")).toHaveText("3 cores to take");
    await core(10).tap();
    await expect(page.locator("#left")).toHaveText("2 cores to take");

    // The sign-in ran out in the field: nothing is dropped.
    const walk = page.url();
    await phone.clearCookies();
    await core(11).tap();
    await expect(page.locator("#signal")).toContainText("Sign in again. 1 entry is kept here until then.");
    await page.getByRole("link", { name: "Sign in" }).tap();
    await page.locator("input[type=password]").fill(passphrase);
    await page.locator("input[type=password]").press("Enter");
    await expect(page.locator("h1").first()).toBeVisible();
    await page.goto(walk);
    await expect(page.locator("#left")).toHaveText("1 core to take");
    await core(12).tap();
    await expect(page.locator("#left")).toHaveText("Every core is taken");
    await expect(page.locator(".so-far")).toHaveText(/^12 of 12 taken, last at \d\d:\d\d$/);
    await expect(page.locator("#signal")).toBeHidden();
    await expect(page.locator("#samples ~ .sample"), "shown anew without a reload").toContainText("taken");

    await page.reload();
    await expect(page.locator("#left")).toHaveText("Every core is taken");
    await expect(page.locator(".core-button.taken")).toHaveCount(12);
    await expect(page.getByLabel("Anything odd here")).toHaveValue("Old roots at the north end.");
    await expect(page.locator("#samples ~ .sample")).toContainText("taken");
    const csv = await (await phone.request.get(page.url().split("?")[0] + "/round.csv")).text();
    expect(csv.split("\n")[1]).toContain("New ground,12,12,15.0,taken");

    await page.getByRole("button", { name: "Gone to the lab" }).tap();
    await expect(page.locator("#samples ~ .sample")).toContainText("at the lab since");
    await page.getByRole("link", { name: "Enter its reading" }).tap();
    await expect(page.locator("h1")).toContainText("sample 2A: New ground");
    await page.locator("#ph").fill("5.8");
    await expect(page.locator("#means")).toContainText("sour by 0.2");
    expect(await faults(page)).toEqual([]);
    await page.getByRole("button", { name: "Save the reading" }).tap();
    await expect(page.locator("#flash")).toContainText("Added a reading of sample 2A, for New ground: pH 5.8 by lab.");
    expect(wrong).toEqual([]);
  } finally {
    await phone.close();
    await own.stop();
  }
});

test("a shared sample is overruled, its labels printed, and a reading is put right", async ({ page }) => {
  await page.goto("/walk");
  await page.getByRole("checkbox", { name: /^Upper ledge/ }).check();
  await page.getByRole("checkbox", { name: /^Cutting strip/ }).check();
  const letter = page.getByLabel("Sample of Cutting strip");
  const first = await page.getByLabel("Sample of Upper ledge").inputValue();
  await letter.fill(first);
  await letter.blur();
  await expect(page.locator(".sample .guard").first()).toContainText("Against the rules");
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Set out" }).click();
  await page.getByRole("link", { name: "Labels to print" }).click();
  await expect(page.locator(".label").first()).toContainText("Upper ledge");
  expect(await faults(page)).toEqual([]);
  await page.goto("/beds/1");
  await page.getByRole("link", { name: "Correct" }).first().click();
  await page.locator("#ph").fill("6.7");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#flash")).toContainText("Corrected a reading of Upper ledge");
  await expect(page.locator("tr.struck")).toContainText("Deleted");
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("tr.struck")).toHaveCount(0);
});

test("a lab's file is matched, put right at its cell, and taken in as one", async ({ page }) => {
  const file = (text) => ({ name: "report.csv", mimeType: "text/csv", buffer: Buffer.from(text) });
  await page.goto("/bench");
  await page.getByRole("link", { name: "Import a lab’s file" }).click();
  const good = "Plot;Taken on;Acidity;K ppm\nUpper ledge;24/11/2026;6,4;118\nKale and roots;24/11/2026;6,1;131\n";
  await page.locator("#file").setInputFiles(file(good.replace("6,1", "61")));
  await page.getByRole("button", { name: "Read the file" }).click();
  await expect(page.locator(".guard.stop")).toContainText("no column holds the pH");
  await page.locator("#c1").selectOption("date");
  await page.locator("#c2").selectOption("ph");
  await page.locator("#dates").selectOption("dmy");
  await expect(page.locator(".guard.stop li")).toHaveText(["Line 3, Acidity: a pH from 3 to 10 is needed."]);
  await expect(page.locator("td.wrong input:not([type=hidden])")).toHaveValue("61");
  await expect(page.locator("h1")).toHaveText("1 thing to correct in report.csv");
  expect(await faults(page)).toEqual([]);
  await page.locator("td.wrong input:not([type=hidden])").fill("6,1");
  await page.locator("td.wrong input:not([type=hidden])").blur();
  await expect(page.locator("h1")).toHaveText("2 readings in report.csv");
  await page.getByRole("button", { name: "Import all 2" }).click();
  await expect(page.locator("#flash")).toContainText("Imported report.csv: 2 readings.", { timeout: 10_000 });
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("#flash")).toContainText("Taken back");
});

test("each way of reading has its own form", async ({ page }) => {
  page.expectRefusal();
  const by = (name) => page.getByRole("group", { name: "Read by" }).getByText(name, { exact: true }).click();
  await page.goto("/bench?bed=11");
  await by("Meter");
  await expect(page.locator("#buffer_kind")).toBeHidden();
  await page.locator("#cal_4").fill("4.25");
  await page.locator("#cal_7").fill("7.1");
  await page.locator("#cal_date").fill(await page.locator("#page").getAttribute("data-today"));
  await expect(page.locator("#means")).toContainText(/Slope 95 %, of [^:]+: counts as freshly calibrated/);
  await page.locator("#tries").fill("5.9 5.5 5.2");
  await expect(page.locator("#means")).toContainText("These do not agree yet");
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#tries-fault")).toContainText("These do not agree yet");
  await page.locator("#tries").fill("5.9 5.7 5.7 5.65");
  await expect(page.locator("#means")).toContainText("Reads 5.5");
  expect(await faults(page)).toEqual([]);

  await by("Stick-in probe");
  await page.locator("#places").fill("5.1 5.3 6.0 5.2 5.2");
  await expect(page.locator("#means")).toContainText("The middle of 5 places is 5.20.");
  await expect(page.locator("#means")).toContainText("6 lies more than 0.4 off it");

  await by("Colour kit");
  await expect(page.locator("#cal_4")).toBeHidden();
  await page.getByText("5.5 to 6", { exact: true }).click();
  await expect(page.locator("#means")).toContainText("Reads 5.8");
  expect(await faults(page)).toEqual([]);

  await by("Two jars");
  await page.getByRole("group", { name: "Pour vinegar" }).getByText("None").click();
  await page.getByRole("group", { name: "Shake baking soda" }).getByText("Clear").click();
  await expect(page.locator("#means")).toContainText("Only the soda fizzed: sour");
  await expect(page.locator("#means")).toContainText("No dose from this");
  await page.getByRole("button", { name: "Watch 1 min" }).first().click();
  await expect(page.locator(".wait:visible").first()).toHaveText(/^(1:00|0:5\d)$/);
  expect(await faults(page)).toEqual([]);

  await by("Jar series");
  for (const [i, [lime, ph]] of [
    [0, 5.5],
    [0.5, 5.92],
    [1, 6.21],
    [1.5, 6.7],
  ].entries()) {
    await page.locator(`#jar${i + 1}_lime`).fill(String(lime));
    await page.locator(`#jar${i + 1}_ph`).fill(String(ph));
  }
  await expect(page.locator("#means figcaption")).toHaveText(
    "From jar to jar this soil takes about 1.25 g of lime a kg for one pH",
  );
  await expect(page.locator("#means .read-at")).toHaveCount(4);
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Save the reading" }).click();
  await expect(page.locator("#flash")).toContainText("pH 5.5 by uncalibrated meter");

  await page.goto("/bench?bed=11");
  await expect(page.locator("#way-meter"), "as it was read last").toBeChecked();
  await by("Lab report");
  await page.getByText("The rest of the lab’s report").click();
  await expect(page.locator("#buffer_ph")).toBeVisible();
  expect(await faults(page)).toEqual([]);
});

test("the stand-ins for a probe and a lab are marked, and lead to readings", async ({ page }) => {
  await page.goto("/bench?bed=11");
  await page.getByText("Meter", { exact: true }).click();
  await expect(page.locator("[data-probe-box]")).toContainText("Simulated");
  // The probe streams until it has settled.
  const read = async (name) => {
    await page.getByRole("button", { name, pressed: false }).click();
    await expect(page.getByRole("button", { name, pressed: true })).toBeVisible();
    await expect(page.getByRole("button", { name, pressed: false })).toBeVisible({ timeout: 15_000 });
  };
  for (const name of ["In bottle 4", "In bottle 7", "In the slurry"]) await read(name);
  await expect(page.locator("#tries")).toHaveValue(/^(\S+ ?){3,}$/);
  await expect(page.locator("#means")).toContainText("Agreed at");
  await expect(page.locator("#means")).toContainText("by meter");
  expect(await faults(page)).toEqual([]);

  await page.goto("/walk?asked=1");
  await page.getByRole("checkbox", { name: /^Plum row/ }).check();
  await page.getByRole("button", { name: "Set out" }).click();
  await page.getByRole("button", { name: "Taken" }).click();
  await page.getByRole("button", { name: "Gone to the lab" }).click();
  await expect(page.locator("#samples ~ .sample")).toContainText("at the lab since");
  const code = await page.locator("#samples ~ .sample .code").textContent();
  await page.goto("/bench");
  await page.locator("#code").fill(code.toLowerCase());
  await page.getByRole("button", { name: "Find" }).click();
  await expect(page.locator("h1")).toContainText(`sample ${code}: Plum row`);
  await page.goBack();
  await page.goBack();
  for (let i = 0; i < 2; i += 1) await page.getByRole("button", { name: "Next week" }).click();
  await expect(page.locator(".guard.note")).toContainText("Simulated lab has answered");
  await page.getByRole("button", { name: "Open its report" }).click();
  await page.getByRole("button", { name: /^Import all 1/ }).click();
  await expect(page.locator("#flash")).toContainText("Imported simulated-lab-", { timeout: 10_000 });
});

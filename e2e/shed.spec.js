// The shed: from an empty garden with a bucket of ash and a bag to a dose in own cups with its
// cost.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { answers, expect, faults, fillBed, test, unfold } from "./help.js";

const address = "http://127.0.0.1:8233";

async function serve(file) {
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", "127.0.0.1:8233"], {
    stdio: "ignore",
  });
  await answers(address);
  return program;
}

test("one bucket and one bag, from an empty garden to a dose in cups", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "zephyrfield-e2e-"));
  const program = await serve(join(folder, "garden.db"));
  try {
    await page.setViewportSize({ width: 390, height: 844 });
    await page.goto(address + "/place");
    await page.locator("#name").fill("Back yard");
    await unfold(page, "Units, money and season");
    await page.locator("#currency").fill("€");
    await page.getByRole("button", { name: "Save the settings" }).click();
    await page.goto(address + "/beds/new");
    await page.locator("#name").fill("Bean row");
    await fillBed(page, "tomato");
    await page.getByRole("button", { name: "Add the bed" }).click();
    await page.goto(address + "/bench?bed=1");
    await page.getByText("Lab report", { exact: true }).click();
    await page.locator("#ph").fill("5.5");
    await page.getByRole("button", { name: "Save the reading" }).click();
    await page.goto(address + "/beds/1/dose");
    await expect(page.locator("#need")).toContainText("It needs");

    // The ash that stands in for any is asked about first: fire, what went in, how much.
    await page.locator("#ways summary").first().click();
    await page.locator("label.opt", { hasText: "ash" }).first().click();
    // At most six taps from here to the ash's dose, the weighing typed between them.
    let taps = 0;
    const tap = async (what) => {
      taps += 1;
      await what.click();
    };
    await tap(page.locator("#ask-ash"));
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("A bin of ash");
    expect(await faults(page)).toEqual([]);
    await tap(page.getByText("Wood stove"));
    await page.getByText("Pallets not known clean").click();
    await expect(page.locator(".went .why:visible")).toContainText("It is never put on a bed");
    await tap(page.getByText("None of these: only clean"));
    await expect(page.locator(".went .why:visible")).toHaveCount(0);
    await page.locator("#on_hand").fill("12");
    await page.locator("#scoop").fill("110");
    await page.locator("#scoop_name").selectOption("cup");
    await page.getByText("How strong it is").click();
    await page.locator("#vinegar").fill("118 122 60");
    await tap(page.getByRole("button", { name: "Add it to the shelf" }));
    expect(taps).toBeLessThanOrEqual(6);
    await expect(page).toHaveURL(/\/beds\/1\/dose/);
    await page.locator("#ways summary").first().click();
    await page.locator("label.opt", { hasText: "Wood stove ash" }).first().click();
    await expect(page.locator(".lead")).toContainText("level cups of wood stove ash");

    // The bag, by its own label and price, stands beside it with a cost.
    await page.goto(address + "/shed/bag");
    expect(await faults(page)).toEqual([]);
    await page.locator("#on_hand").fill("0,2");
    await page.locator("#bag").fill("25");
    await page.locator("#price").fill("8,75");
    await page.getByRole("button", { name: "Add it to the shelf" }).click();
    await expect(page.locator("#flash")).toContainText("Put ground limestone on the shelf");
    await expect(page.locator(".bag-row")).toContainText("€8.75 for 25 kg");
    await expect(page.locator(".bin-row")).toContainText(
      "50 % as strong as pure lime, ± 8, vinegar, 3 runs, run 3 left out",
    );
    expect(await faults(page)).toEqual([]);

    await page.goto(address + "/beds/1/dose?use=b2");
    await page.locator("#put").click();
    await page.goto(address + "/shed");
    await expect(page.locator(".buys")).toContainText("1 bag of 25 kg");
    await expect(page.locator(".total")).toHaveText("€8.75 in all");

    // All of it shared out: the bucket first, and the bed's dose a click away.
    await page.getByRole("link", { name: "Share it all out" }).click();
    await expect(page.getByRole("heading", { level: 1 })).toContainText("of 12 kg of ash for 1 bed");
    expect(await faults(page)).toEqual([]);
    await page.locator("#put-all").click();
    await expect(page.locator("#flash")).toContainText("for 1 bed");
    await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
    await expect(page.locator("#flash")).toContainText("Taken back");
    await page.locator(".shares a", { hasText: "Bean row" }).click();
    await expect(page).toHaveURL(/\/beds\/1\/dose/);
    await page.goto(address + "/shed");

    // What is wrong with a weighing stands at its field; what is right moves the level,
    // and is taken back.
    await page.locator(".bin-row h3 a").click();
    page.expectRefusal();
    await page.locator("#moved").fill("x");
    await page.getByRole("button", { name: "Note it" }).click();
    await expect(page.locator("#moved-fault")).toContainText("is not a number");
    await expect(page.locator("#moved")).toHaveValue("x");
    await page.locator("#moved").fill("11,5");
    await page.getByRole("button", { name: "Note it" }).click();
    await expect(page.locator("#left")).toHaveText("105 level cups (11.5 kg) left");
    await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
    await expect(page.locator("#left")).toHaveText("109 level cups (12 kg) left");
  } finally {
    program.kill("SIGTERM");
    await new Promise((done) => {
      program.on("exit", done);
    });
    rmSync(folder, { recursive: true });
  }
});

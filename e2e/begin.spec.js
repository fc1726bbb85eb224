// An empty garden of one's own: three steps end on a dose, and all is still
// there when the program is started again.
import { spawn } from "node:child_process";
import { mkdtempSync, rmSync, readdirSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test, expect, faults, answers } from "./help.js";

const address = "http://127.0.0.1:8118";

const serve = async (file) => {
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", "127.0.0.1:8118"]);
  await answers(address);
  return program;
};

const stop = (program) => new Promise((done) => {
  program.on("exit", done);
  program.kill("SIGTERM");
});

test("three steps from nothing to a dose, kept over a restart", async ({ page }) => {
  const folder = mkdtempSync(join(tmpdir(), "zephyrfield-e2e-"));
  const file = join(folder, "garden.db");
  let program = await serve(file);
  try {
    await page.goto(address);
    await expect(page.getByRole("heading", { level: 1 })).toHaveText("Nothing on the plan yet");
    expect(await faults(page)).toEqual([]);
    await page.getByRole("link", { name: "Begin" }).click();
    await expect(page.locator(".off-today")).toContainText("Step 1 of 3");
    await page.locator("#name").fill("Back yard");
    await page.getByRole("button", { name: "Save the place" }).click();
    await expect(page.locator(".off-today")).toContainText("Step 2 of 3");
    await page.locator("#name").fill("Bean row");
    await page.locator("#crop").selectOption("bean");
    await page.getByRole("button", { name: "Add the bed" }).click();
    await expect(page.locator(".off-today")).toContainText("Step 3 of 3");
    await page.getByText("Colour kit", { exact: true }).click();
    await page.locator("#ph").fill("5.4");
    await page.getByRole("button", { name: "Save the reading" }).click();
    await expect(page.locator("#need")).toContainText("It needs 344 g/m²");
    await expect(page.locator(".mid .guard.caution").first()).toContainText("So the first go is half");

    await stop(program);
    expect(readdirSync(join(folder, "garden.db.copies"))).toHaveLength(1);
    program = await serve(file);
    await page.goto(address);
    await expect(page.locator(".brand")).toContainText("Back yard");
    await expect(page.locator("#slip-name")).toHaveText("Bean row");
  } finally {
    await stop(program);
    rmSync(folder, { recursive: true });
  }
});

// Backup and files: passphrase, sessions, restoring a backup, importing an archive and undoing it.
import { spawn, execFileSync } from "node:child_process";
import { copyFileSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { test, expect, faults, answers } from "./help.js";

const words = "ash on her gloves";

const serve = async (file, listen, says) => {
  const program = spawn("bin/zephyrfield", ["serve", "--data", file, "--listen", listen]);
  program.stdout.on("data", (d) => says.push(String(d)));
  program.stderr.on("data", (d) => says.push(String(d)));
  await answers(`http://127.0.0.1:${listen.split(":").pop()}/static/x/favicon.svg`);
  return program;
};

const ends = (program, signal) =>
  new Promise((done) => {
    program.on("exit", done);
    program.kill(signal);
  });

// Nobody is signed out while something waits to be sent; after that nothing of the garden stays in the browser, in no tab.
const leaves = async (browser, address) => {
  const desk = await browser.newContext();
  const page = await desk.newPage();
  await page.goto(`${address}/sign-in`);
  await page.locator("#passphrase").fill(words);
  await page.getByRole("button", { name: "Sign in" }).click();
  const other = await desk.newPage();
  for (const tab of [page, other]) {
    await tab.goto(`${address}/beds/new`);
    await tab.locator("#name").fill("A draft of a bed");
  }
  await page.evaluate(() => navigator.serviceWorker.ready.then(() => undefined));
  await page.goto(`${address}/sheet`);
  await page.evaluate(() =>
    localStorage.setItem("zephyrfield-queue", JSON.stringify([{ to: "/tasks/1/put-on", fields: {} }])),
  );
  await desk.setOffline(true);
  const waits = page.getByText("What you did without a signal is not sent yet");
  for (const press of ["once", "twice"]) {
    await page.getByRole("button", { name: "Sign out" }).click();
    await expect(waits, press).toHaveCount(1);
  }
  await page.evaluate(() => localStorage.setItem("zephyrfield-queue", "[]"));
  await desk.setOffline(false);
  await page.getByRole("button", { name: "Sign out" }).click();
  for (const tab of [page, other]) {
    await expect(tab).toHaveURL(/sign-in/);
    const left = () =>
      tab.evaluate(async () => JSON.stringify([{ ...localStorage }, { ...sessionStorage }, await caches.keys()]));
    await expect.poll(left).not.toMatch(/zephyrfield-(draft|sent|queue|pages)/);
  }
  await desk.close();
};

test("an archive comes in, a copy is put back, and who is signed in is ended", async ({ page, browser, request }) => {
  const folder = mkdtempSync(join(tmpdir(), "zephyrfield-e2e-"));
  const file = join(folder, "garden.db");
  const address = "http://127.0.0.1:8119";
  const says = [];
  const archive = join(folder, "hollin.json");
  writeFileSync(archive, await (await request.get("/export/garden.json")).text());
  execFileSync("bin/zephyrfield", ["passphrase", "--data", file], { input: `${words}\n` });
  let program = await serve(file, "0.0.0.0:8119", says);
  try {
    await page.goto(address);
    await expect(page).toHaveURL(/sign-in/);
    await page.locator("#passphrase").fill(words);
    await page.getByRole("button", { name: "Sign in" }).click();

    // What is no archive is told at its field; a whole one comes in, and is one undo.
    await page.goto(`${address}/keep`);
    const broken = join(folder, "broken.json");
    writeFileSync(
      broken,
      '{"format":"zephyrfield-archive","edition":2,' + '"beds":[{"id":1,"version":1,"name":"A","w_m":-4}]}',
    );
    page.expectRefusal();
    await page.locator("#archive").setInputFiles(broken);
    await page.getByRole("button", { name: "Restore it" }).click();
    await expect(page.locator("#archive-fault")).toContainText("a length above 0 m is needed");
    await page.locator("#archive").setInputFiles(archive);
    await page.getByRole("button", { name: "Restore it" }).click();
    await expect(page.locator("#flash")).toContainText("Restored an archive of Hollin Terrace");
    await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
    await expect(page.locator(".brand")).not.toContainText("Hollin");
    await page.goto(`${address}/keep`);
    await page.locator("#archive").setInputFiles(archive);
    await page.getByRole("button", { name: "Restore it" }).click();
    await expect(page.locator(".brand")).toContainText("Hollin Terrace");

    // A copy is put back from the page, and so is how it stood before.
    await page.goto(`${address}/keep`);
    expect(await faults(page)).toEqual([]);
    await expect(page.getByRole("button", { name: /Restore the copy of/ })).toHaveCount(1);
    await page.getByRole("button", { name: /Restore the copy of/ }).click();
    await expect(page.locator("#flash")).toContainText("Restored the copy");
    await expect(page.locator(".brand")).not.toContainText("Hollin");
    await page.getByRole("button", { name: /as it was before/ }).click();
    await expect(page.locator(".brand")).toContainText("Hollin Terrace");

    // A phone signs in and is ended from the desk.
    const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, userAgent: "A browser (Mobile)" });
    const there = await phone.newPage();
    await there.goto(`${address}/sign-in`);
    await there.locator("#passphrase").fill(words);
    await there.getByRole("button", { name: "Sign in" }).click();
    await there.goto(`${address}/keep`);
    expect(await faults(there)).toEqual([]);
    await page.goto(`${address}/keep`);
    await page.locator("tr", { hasText: "a phone or tablet" }).getByRole("button", { name: /^End/ }).click();
    await expect(page.locator("#signed-in tbody tr")).toHaveCount(1);
    await there.goto(`${address}/`);
    await expect(there).toHaveURL(/sign-in/);
    await phone.close();

    await leaves(browser, address);

    // Killed, and a copy put over the file by hand: the next start says what it found.
    await ends(program, "SIGKILL");
    const copy = readdirSync(`${file}.copies`).sort()[0];
    copyFileSync(join(`${file}.copies`, copy), file);
    says.length = 0;
    program = await serve(file, "0.0.0.0:8119", says);
    expect(says.join("")).toContain("set aside");
    await page.goto(address);
    await expect(page).toHaveURL(/sign-in/);
  } finally {
    await ends(program, "SIGTERM");
    rmSync(folder, { recursive: true });
  }
});

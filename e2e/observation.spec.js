// Observations: two taps on a phone, a scaled photograph, open until a reading answers them.
import { test, expect, faults } from "./help.js";

test("two taps note what is seen, with a small photograph, until a reading answers it", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/?bed=2");
  await page.getByRole("link", { name: "Note what you see" }).click();
  expect(await faults(page)).toEqual([]);
  await page.getByRole("button", { name: "Yellow leaves, green veins" }).click();
  await expect(page.locator("#flash")).toContainText("Seen on Middle ledge: yellow leaves, green veins");
  await expect(page.locator(".sights li").first()).toContainText("To do: Read the pH.");

  // A camera's picture is made small before it is sent.
  const png = await page.evaluate(() => {
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [2400, 1800];
    const on = canvas.getContext("2d");
    on.fillStyle = "#d9c95a";
    on.fillRect(200, 200, 900, 900);
    return canvas.toDataURL("image/png").split(",")[1];
  });
  await page.locator(".seen-form summary").click();
  await page
    .locator("#photo")
    .setInputFiles({ name: "field.png", mimeType: "image/png", buffer: Buffer.from(png, "base64") });
  await expect.poll(() => page.locator("#photo").evaluate((el) => el.files[0].name)).toBe("photo.jpg");
  await page.locator("#note").fill("By the wall.");
  await page.getByRole("button", { name: "Purple leaves" }).click();
  await expect(page.locator(".sights li").first()).toContainText("By the wall.");
  const kept = page.locator(".sights img").first();
  await expect.poll(() => kept.evaluate((el) => `${el.naturalWidth}×${el.naturalHeight}`)).toBe("1000×750");
  await page.goto("/?bed=2");
  await expect(page.locator(".slip .guard").first()).toContainText("purple leaves");
  await page.goto("/walk");
  await expect(page.locator(".round-bed", { hasText: "Middle ledge" })).toContainText(
    "seen: purple leaves, read the pH",
  );
  await page.goto("/beds/2");
  await expect(page.locator(".seen-mark")).toHaveCount(2);
  await page.locator(".sights li").first().getByRole("button").click();
  await expect(page.locator(".sights li")).toHaveCount(1);
  await page.locator("#flash").getByRole("button", { name: "Undo" }).click();
  await expect(page.locator(".sights li")).toHaveCount(2);
});

test("a tour with the meter: figures one after the other, saved as one", async ({ page }) => {
  await page.setViewportSize({ width: 390, height: 844 });
  await page.goto("/bench/tour");
  expect(await faults(page)).toEqual([]);
  const fields = page.locator(".tour-beds input");
  await fields.first().fill("6.1");
  await fields.first().press("Enter");
  await expect(fields.nth(1)).toBeFocused();
  await page.keyboard.type("5.9 6.1");
  await page.keyboard.press("Enter");
  await page.keyboard.type("62");
  page.expectRefusal();
  await page.getByRole("button", { name: "Save all readings" }).click();
  await expect(page.locator(".tour-beds .fault").nth(2)).not.toBeEmpty();
  await fields.nth(2).fill("6.2");
  await page.getByRole("button", { name: "Save all readings" }).click();
  await expect(page.locator("#flash")).toContainText("Added 3 readings of a tour");
});

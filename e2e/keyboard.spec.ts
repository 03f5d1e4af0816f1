import { readFileSync } from "node:fs";
import { expect, test, type Locator, type Page } from "@playwright/test";
import { writeKit } from "./kit";

/** Tabs until something has the focus, as somebody does who has no pointer; it must be within reach. */
async function tabTo(page: Page, target: Locator, most = 250): Promise<void> {
  await expect(target).toBeVisible({ timeout: 60_000 });
  for (let i = 0; i < most; i++) {
    if (await target.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press("Tab");
  }
  throw new Error(`the focus never came to ${String(target)}`);
}
async function press(page: Page, target: Locator, key = "Enter"): Promise<void> {
  await tabTo(page, target);
  await page.keyboard.press(key);
}
const button = (page: Page, name: string | RegExp) =>
  page.getByRole("button", { name, exact: typeof name === "string" });

test("from files to a delivered kit by keyboard alone", async ({ page }) => {
  test.setTimeout(300_000);
  const kit = writeKit("keyboard", 58, 6);
  await page.goto("/");
  await tabTo(page, page.getByLabel("Title of the new song"));
  await page.keyboard.type("No pointer");
  await page.keyboard.press("Enter");
  // The file dialogue is the system's own, and opens by Enter.
  const chooser = page.waitForEvent("filechooser");
  await press(page, button(page, "Choose files"));
  await (await chooser).setFiles(kit.files);
  await expect(page.getByText(/\d+ strokes found/)).toBeVisible({ timeout: 120_000 });

  const takeAll = async (step: string) => {
    await page.keyboard.press(step);
    await press(page, button(page, /^Take all/));
    await expect(button(page, "All decided")).toBeVisible();
  };
  await takeAll("1");
  await takeAll("2");
  await takeAll("4");
  await takeAll("6");

  // A fader by its arrow keys, typed, and taken back.
  const fader = page.getByRole("slider", { name: /^Level of/ }).first();
  await tabTo(page, fader);
  const before = await fader.inputValue();
  await page.keyboard.press("ArrowLeft");
  expect(Number(await fader.inputValue())).toBeLessThan(Number(before));
  const typed = page.getByRole("textbox", { name: /^Level of .*typed/ }).first();
  await tabTo(page, typed);
  await page.keyboard.type("-3");
  await page.keyboard.press("Enter");
  await expect(typed).toHaveValue("−3 dB");
  await page.keyboard.press("Control+z");
  await expect(typed).not.toHaveValue("−3 dB");

  // Heard: Space plays and stops wherever the focus is no button.
  await tabTo(page, button(page, "Play"));
  await page.keyboard.press(" ");
  await expect(page.getByTestId("time")).toHaveText(/0:0[1-9]/, { timeout: 15_000 });
  await page.keyboard.press(" ");
  await expect(button(page, "Play")).toBeVisible();

  await page.keyboard.press("7");
  await press(page, button(page, "Render the kit"));
  const files = page.getByRole("table", { name: "Rendered files" });
  const link = files.getByRole("link", { name: "kit.wav" });
  await expect(link).toBeVisible({ timeout: 180_000 });
  const saving = page.waitForEvent("download");
  await press(page, link);
  const wav = readFileSync(await (await saving).path());
  expect(wav.subarray(0, 4).toString()).toBe("RIFF");
  expect(wav.length).toBeGreaterThan(1_000_000);
});

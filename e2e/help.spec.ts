import { expect, test, type Page } from "@playwright/test";
import { copyOf } from "./songApi";

const open = async (page: Page, id: string) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
};

test("each step says what it is for; help tells its figures by keyboard; a guide leads through the song and can be left", async ({
  page,
  request,
}) => {
  const id = await copyOf(request, "Ferry Room Stomp", "Led through");
  await open(page, id);
  await expect(page.getByText("Bring the files in, say what each mic hears")).toBeVisible();
  await page.keyboard.press("5");
  await page.keyboard.press("F1");
  const help = page.getByRole("dialog", { name: "Help" });
  await expect(help.getByRole("heading").first()).toHaveText("Shape");
  await expect(help.getByText("Slope of the decay between strokes")).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(help).toBeHidden();

  await page.getByRole("button", { name: "Two minutes through this song" }).click();
  const guide = page.getByRole("region", { name: "Guide" });
  await expect(guide).toContainText("These are the mics1 of 8");
  await expect(page.locator(".kit-side.guided")).toBeVisible();
  await page.keyboard.press("Tab");
  for (let n = 0; n < 2; n++) await guide.getByRole("button", { name: "Next" }).press("Enter");
  await expect(guide).toContainText("In phase first");
  await expect(guide.getByText("done")).toHaveCount(0);
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expect(guide.getByText("done")).toBeVisible();
  // Where one is stays, also over a reload.
  await page.reload();
  await expect(guide).toContainText("In phase first");
  await guide.getByRole("button", { name: "Leave the guide" }).click();
  await expect(guide).toHaveCount(0);
  await expect(page.getByRole("button", { name: "Two minutes through this song" })).toHaveCount(0);
  await page.getByRole("button", { name: "Say no more what steps are for" }).click();
  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await expect(page.getByText("Put mics of one drum in phase")).toHaveCount(0);
  await page.getByRole("button", { name: "Help" }).click();
  await help.getByLabel("Say above each step what it is for").check();
  await help.getByRole("button", { name: "Close" }).click();
  await expect(page.locator(".step-purpose")).toContainText("Put mics of one drum in phase");
});

for (const [width, height, what] of [
  [1024, 768, "a small screen"],
  [640, 400, "1280 by 800 at 200 %"],
] as const)
  test(`every step is worked in on ${what}: nothing lies beside the page, and what one needs is reached`, async ({
    page,
    request,
  }) => {
    const id = await copyOf(request, "Ferry Room Stomp", `On ${what}`);
    await page.setViewportSize({ width, height });
    await open(page, id);
    for (let step = 1; step <= 7; step++) {
      await page.keyboard.press(String(step));
      await page.waitForTimeout(300);
      expect(
        await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth),
        `step ${step}`,
      ).toBeLessThanOrEqual(0);
      for (const name of [/^Play$/, /^Help$/, /^Undo/]) {
        const button = page.getByRole("button", { name });
        await button.scrollIntoViewIfNeeded();
        await expect(button, `${name} in step ${step}`).toBeInViewport();
      }
    }
    await page.keyboard.press("6");
    const mix = page.getByRole("table", { name: "Mix" });
    for (const name of ["Mute 01 KD in", "Solo 01 KD in"]) {
      await mix.getByRole("button", { name }).scrollIntoViewIfNeeded();
      await expect(mix.getByRole("button", { name })).toBeInViewport();
    }
    await mix.getByRole("button", { name: "Mute 01 KD in" }).click();
    await expect(page.getByRole("button", { name: /^Undo: muted/ })).toBeEnabled();
  });

test("pictures have tables behind them, reached by Tab", async ({ page, request }) => {
  const id = await copyOf(request, "Ferry Room Stomp", "Told as tables");
  await open(page, id);
  const line = page.getByText("As a table: strokes of the song");
  await line.focus();
  await expect(line).toBeInViewport();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("row", { name: /^Kick \d+/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await page.keyboard.press("2");
  await page
    .getByRole("button", { name: /^Snare bottom/ })
    .first()
    .click();
  const curve = page.getByText(/^As a table:/).last();
  await curve.focus();
  await page.keyboard.press("Enter");
  await expect(page.locator(".table-behind[open] tbody tr").nth(5)).toBeVisible();
});

import { test, type Page } from "@playwright/test";
const shot = (page: Page, name: string) => page.screenshot({ path: `/tmp/shots/${name}.png` });
test.use({ viewport: { width: 1280, height: 800 } });
test("look", async ({ page }) => {
  test.setTimeout(120000);
  await page.goto("/");
  await page.getByRole("link", { name: /Ferry/ }).first().click();
  await page.getByRole("region", { name: "Kit plan" }).waitFor();
  await page.waitForTimeout(3000);
  await page.keyboard.press("5");
  await page.waitForTimeout(500);
  await page.getByRole("region", { name: "Kit plan" }).getByRole("button", { name: /snare/i }).first().click();
  await page.waitForTimeout(1500);
  const chain = page.getByRole("region", { name: /^Chain of/ });
  const add = async (label: string) => {
    await chain.getByRole("button", { name: "Add" }).click();
    await page.waitForTimeout(300);
    if (label === "Clipper") await shot(page, "add");
    await page.getByRole("button", { name: label, exact: true }).last().click();
    await page.waitForTimeout(2500);
  };
  for (const label of ["Clipper", "Limiter", "Attack and sustain", "Band compressor", "Low harmonics", "Compressor"]) {
    await add(label);
    await shot(page, label.replace(/ /g, "-"));
  }
});

import { test } from "@playwright/test";
test("look", async ({ page }) => {
  test.setTimeout(400_000);
  await page.setViewportSize({ width: 1280, height: 800 });
  page.on("console", (m) => m.type() === "error" && console.log("console:", m.text()));
  page.on("pageerror", (e) => console.log("error:", e.message));
  await page.goto("/");
  await page.getByRole("link", { name: /Ferry Room Stomp/ }).click();
  await page.getByRole("region", { name: "Kit plan" }).waitFor();
  // take all of Gather, Align, Clean
  for (const key of ["1", "2", "4", "5"]) {
    await page.keyboard.press(key);
    const all = page.getByRole("button", { name: /^Take all/ });
    await page.waitForTimeout(500);
    if (key !== "5" && (await all.count())) await all.first().click();
    await page.waitForTimeout(700);
  }
  await page.screenshot({ path: "/tmp/a0.png" });
  await page.getByRole("button", { name: /^Snare, / }).first().click();
  const chain = page.getByRole("region", { name: /^Chain of/ });
  await chain.waitFor();
  const t0 = Date.now();
  await chain.getByRole("button", { name: "EQ", exact: true }).click();
  await page.waitForTimeout(500);
  await page.getByText(/strokes of \d+/).first().waitFor({ timeout: 60000 });
  console.log("spectrum behind Cancel after", Date.now() - t0);
  await page.screenshot({ path: "/tmp/a1.png" });
  await page.getByRole("button", { name: "Tail", exact: true }).click();
  await page.waitForTimeout(300);
  await chain.getByRole("button", { name: "Compressor", exact: true }).click();
  const t1 = Date.now();
  await page.getByTestId("effect").getByText(/median/).waitFor({ timeout: 60000 });
  console.log("effect after", Date.now() - t1);
  await page.waitForTimeout(400);
  await page.screenshot({ path: "/tmp/a2.png" });
  await page.getByRole("button", { name: "In and out" }).click();
  await page.waitForTimeout(300);
  await page.screenshot({ path: "/tmp/a3.png" });
  await page.getByRole("button", { name: "Along the song" }).click();
  await page.waitForTimeout(300);
  await page.screenshot({ path: "/tmp/a4.png" });
  await chain.getByRole("button", { name: "Saturation", exact: true }).click();
  await page.waitForTimeout(2500);
  await page.getByRole("button", { name: "Harmonics", exact: true }).click();
  await page.waitForTimeout(600);
  await page.screenshot({ path: "/tmp/a5.png" });
});

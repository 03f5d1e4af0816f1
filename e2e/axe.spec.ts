import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "@playwright/test";

/** Rules of WCAG 2.0 to 2.2, levels A and AA. */
const rules = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

/** What of a page breaks a rule, a line each. */
async function broken(page: Page): Promise<string[]> {
  const { violations } = await new AxeBuilder({ page }).withTags(rules).analyze();
  // Grips of settings that lie near each other overlap in a plot; each has a typed field and keys of its own, which 2.5.8 takes as equivalent.
  const isGrip = (html: string): boolean => html.includes('role="slider"');
  return violations.flatMap(({ id, nodes }) =>
    nodes
      .filter((n) => !(id === "target-size" && isGrip(n.html)))
      .map((n) => `${id}: ${n.target.join(" ")}: ${n.failureSummary?.split("\n")[1]?.trim() ?? ""}`),
  );
}

for (const scheme of ["light", "dark"] as const)
  test(`no main view breaks a rule of WCAG 2.2 AA, ${scheme}`, async ({ page }) => {
    test.setTimeout(300_000);
    await page.setViewportSize({ width: 1280, height: 800 });
    await page.emulateMedia({ colorScheme: scheme, reducedMotion: "reduce" });
    const found: string[] = [];
    const look = async (view: string) => {
      await page.waitForTimeout(700);
      for (const line of await broken(page)) found.push(`${view}: ${line}`);
    };
    await page.goto("/");
    await look("songs");
    await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
    await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
    for (const [key, name] of [
      ["1", "Gather"],
      ["2", "Align"],
      ["3", "Tighten"],
      ["4", "Clean"],
      ["5", "Shape"],
      ["6", "Blend"],
      ["7", "Deliver"],
    ] as const) {
      await page.keyboard.press(key);
      await look(`${name}, whole kit`);
    }
    await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
    for (const [key, name] of [
      ["2", "Align"],
      ["3", "Tighten"],
      ["4", "Clean"],
      ["5", "Shape"],
      ["6", "Blend"],
    ] as const) {
      await page.keyboard.press(key);
      await look(`${name}, snare`);
    }
    expect(found).toEqual([]);
  });

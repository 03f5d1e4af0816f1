import AxeBuilder from "@axe-core/playwright";
import { expect, test, type Page } from "@playwright/test";
import { beatTitle } from "../demo/beatSong";

/** Rules of WCAG 2.0 to 2.2, levels A and AA. */
const rules = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"];

/** Those of them that another scheme of colours can break. */
const ofColours = ["color-contrast", "link-in-text-block"];

/** What of a page, or of a part of it, breaks a rule, a line each. */
async function broken(page: Page, colours: boolean, part: string): Promise<string[]> {
  const axe = new AxeBuilder({ page }).include(part);
  const { violations } = await (colours ? axe.withRules(ofColours) : axe.withTags(rules)).analyze();
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
    const look = async (view: string, part = "html") => {
      await page.waitForTimeout(700);
      for (const line of await broken(page, scheme === "dark", part)) found.push(`${view}: ${line}`);
    };
    /** Where the bench alone is another: what lies around it was looked at with the one before. */
    const lookAtBench = (view: string) => look(view, "main");
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
    await page.keyboard.press("F1");
    await look("Help");
    await page.getByRole("button", { name: "Guide through this song" }).click();
    await look("Guide");
    await page.getByRole("button", { name: "Leave the guide" }).click();
    await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
    await page.keyboard.press("2");
    await look("Align, snare");
    for (const [key, name] of [
      ["3", "Tighten"],
      ["4", "Clean"],
      ["5", "Shape"],
      ["6", "Blend"],
    ] as const) {
      await page.keyboard.press(key);
      await lookAtBench(`${name}, snare`);
    }
    await page.keyboard.press("5");
    await page.getByRole("button", { name: "Masking …" }).click();
    await lookAtBench("Masking");
    await page.getByRole("button", { name: "Back to the chains" }).click();
    await page.keyboard.press("6");
    for (const tab of ["Who feeds whom", "What it does", "Checks", "Record", "Revisions"]) {
      await page.getByRole("button", { name: tab, exact: true }).click();
      await lookAtBench(tab);
    }
    await page.getByRole("button", { name: "Levels", exact: true }).click();
    await page.getByRole("button", { name: "Draw on the song line" }).click();
    await page.locator(".level-line").click();
    await page.getByText("Points as a list").click();
    await look("Fader over the song");
    await page.getByRole("button", { name: "Take the moves out" }).click();
    await page.goto("/");
    await page.getByRole("link", { name: beatTitle }).click();
    await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
    await page.keyboard.press("5");
    await page
      .getByRole("button", { name: /Break loop/ })
      .first()
      .click();
    await page.getByRole("button", { name: "Strokes in it …" }).click();
    await expect(page.getByTestId("loop-strokes")).toContainText(/kick \d+/);
    await look("Loop");
    await page.getByRole("button", { name: "Layers under snare" }).click();
    await page.getByRole("button", { name: "Add a layer" }).click();
    await page.getByRole("button", { name: /Made-up sounds/ }).click();
    await expect(page.getByTestId("layer-phase")).toContainText(/low end together/, { timeout: 30_000 });
    await lookAtBench("Layers");
    await page.getByRole("button", { name: "Remove Snare layer" }).click();
    expect(found).toEqual([]);
  });

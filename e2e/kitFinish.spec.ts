import { expect, test } from "@playwright/test";
import { copyOf, expectSaved, readSong } from "./songApi";

test("glue and rounding of the kit are fitted to it, told with their figures, and one step each", async ({
  page,
  request,
}) => {
  const id = await copyOf(request, "Ferry Room Stomp", "Finished kit");
  const chain = async () => (await readSong(request, id)).song.buses.find((b) => b.output === null)!.chain;
  const before = await chain();
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  const panel = page.getByRole("region", { name: "Finish of the kit" });
  await panel.getByRole("button", { name: "Glue" }).click();
  await expect(panel.getByTestId("finish-glue")).toContainText(
    /1\.5 dB at half of the strokes, peaks [−+±]\d/,
    { timeout: 60_000 },
  );
  await panel.getByRole("button", { name: "Rounding" }).click();
  const rounded = panel.getByTestId("finish-rounding");
  await expect(rounded).toContainText(/as loud as before/, { timeout: 60_000 });
  // It was sought until half of the strokes are 1 dB rounder.
  const peaks = Number(/strokes −([\d.]+) dB/.exec((await rounded.textContent())!)![1]);
  expect(Math.abs(peaks - 1)).toBeLessThan(0.2);
  await expectSaved(page);
  const fitted = await chain();
  expect(fitted.filter((p) => ["compressor", "saturation"].includes(p.type)).map((p) => p.on)).toEqual([
    true,
    true,
  ]);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  expect(await chain()).toEqual(before);
  // What stands no more is told no more.
  await expect(panel.getByTestId("finish-glue")).toHaveCount(0);
  await expect(rounded).toHaveCount(0);
});

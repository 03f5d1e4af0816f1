import { expect, test, type Locator, type Page } from "@playwright/test";
import { copyOf, expectSaved, readSong } from "./songApi";

/** Presses a fader near where it stands at 0 dB and drags it well down; it is still held then. */
async function dragDown(page: Page, slider: Locator): Promise<void> {
  const box = (await slider.boundingBox())!;
  await page.mouse.move(box.x + 0.68 * box.width, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(box.x + 0.4 * box.width, box.y + box.height / 2, { steps: 4 });
}

test("faders of several rows move together by as much, are muted together, and each is one step", async ({
  page,
  request,
}) => {
  const id = await copyOf(request, "Ferry Room Stomp", "Rows together");
  const mics = async () => {
    await expectSaved(page);
    const { song } = await readSong(request, id);
    return ["01 KD in.wav", "03 SN top.wav", "04 SN btm.wav"].map((f) =>
      song.mics.find((m) => m.file === f)!,
    );
  };
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  const table = page.getByRole("table", { name: "Mix" });
  const name = (n: string) => table.getByRole("button", { name: n, exact: true });
  // The demo song's faders stand where other tests left them.
  for (const [mic, level] of [
    ["01 KD in", "0"],
    ["03 SN top", "0"],
    ["04 SN btm", "-6"],
  ] as const) {
    await name(mic).click();
    const field = table.getByRole("textbox", { name: `Level of ${mic}, typed` });
    await field.fill(level);
    await field.press("Enter");
  }
  await name("03 SN top").click();
  await name("04 SN btm").click({ modifiers: ["Shift"] });
  await name("01 KD in").click({ modifiers: ["Control"] });
  const typed = table.getByRole("textbox", { name: "Level of 03 SN top, typed" });
  await typed.click();
  await typed.fill("-2");
  await typed.press("Enter");
  expect((await mics()).map((m) => m.level)).toEqual([-2, -2, -8]);
  await table.getByRole("button", { name: "Mute 01 KD in" }).click();
  expect((await mics()).map((m) => m.muted)).toEqual([true, true, true]);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  // A press on what stands in their rows keeps them together, a drag by the pointer too.
  const slider = table.getByRole("slider", { name: "Level of 01 KD in", exact: true });
  await dragDown(page, slider);
  await page.mouse.up();
  const [kick, top, bottom] = (await mics()).map((m) => m.level) as [number, number, number];
  expect(kick).toBeLessThan(-3);
  expect(top).toBeCloseTo(kick, 5);
  expect(bottom).toBeCloseTo(kick - 6, 5);
  await page.keyboard.press("Control+z");
  expect((await mics()).map((m) => [m.level, m.muted])).toEqual([
    [0, false],
    [0, false],
    [-6, false],
  ]);
  const pan = table.getByRole("textbox", { name: "Pan of 04 SN btm, typed" });
  await pan.fill("20");
  await pan.press("Enter");
  const places = (await mics()).map((m) => m.chain.find((p) => p.type === "pan")!.params["position"]);
  expect(places).toEqual([20, 20, 20]);
  await page.keyboard.press("Control+z");
  // Another row on the bench gives the others up.
  await name("02 KD out").click();
  await name("03 SN top").click();
  await typed.fill("-1");
  await typed.press("Enter");
  expect((await mics()).map((m) => m.level)).toEqual([0, -1, -6]);
});

test("an answer that comes while a fader is dragged does not throw it back", async ({ page, request }) => {
  const id = await copyOf(request, "Ferry Room Stomp", "Dragged through an answer");
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  const table = page.getByRole("table", { name: "Mix" });
  const typed = table.getByRole("textbox", { name: "Level of 01 KD in, typed" });
  await typed.fill("0");
  await typed.press("Enter");
  await table.getByRole("button", { name: "Mute 01 KD in" }).click();
  await expectSaved(page);
  let answer = () => {};
  const held = new Promise<void>((resolve) => (answer = resolve));
  await page.route("**/history", async (route) => {
    if (route.request().method() === "POST") await held;
    await route.continue();
  });
  await page.keyboard.press("Control+z");
  const slider = table.getByRole("slider", { name: "Level of 01 KD in", exact: true });
  await dragDown(page, slider);
  answer();
  await expect(table.getByRole("button", { name: "Mute 01 KD in" })).toHaveAttribute("aria-pressed", "false");
  await page.mouse.up();
  await expectSaved(page);
  const { song } = await readSong(request, id);
  expect(song.mics.find((m) => m.file === "01 KD in.wav")!.level).toBeLessThan(-3);
});

import { expect, test, type Page } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import { partsOf } from "../src/core/song/chain";
import { writeWav } from "../src/core/file/wavWrite";
import { deliverSong, expectSaved, readSong, runTask, sendFile } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  const { kit, song } = variedKit(419, 4);
  id = await deliverSong(request, "Sound tools", simulate(kit, song, rate, 419).mics, rate);
});

const chain = (page: Page) => page.getByRole("region", { name: /^Chain of/ });
const effect = (page: Page) => page.getByTestId("effect");
async function openSnare(page: Page): Promise<void> {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("5");
  await page
    .getByRole("button", { name: /^Snare, / })
    .first()
    .click();
  await expect(chain(page)).toBeVisible();
}
async function add(page: Page, label: string): Promise<void> {
  await chain(page).getByRole("button", { name: "Add" }).click();
  await page.getByRole("button", { name: label, exact: true }).last().click();
  await expectSaved(page);
}
async function type(page: Page, label: string, value: string): Promise<void> {
  await page.getByLabel(`${label}, typed`).fill(value);
  await page.keyboard.press("Enter");
  await expectSaved(page);
}

test("tools that work on every stroke tell how many they touch and what that does to the peaks", async ({
  page,
}) => {
  await openSnare(page);
  await add(page, "Clipper");
  await type(page, "Ceiling", "-40");
  await expect(effect(page)).toContainText(/(\d+) of \1 strokes touched, \d+\.\d dB at most/, {
    timeout: 20_000,
  });
  await type(page, "Ceiling", "0");
  await expect(effect(page)).toContainText(/none of \d+ strokes touched; peaks ±0\.0 dB/, {
    timeout: 20_000,
  });
  await add(page, "Limiter");
  await type(page, "Ceiling", "-24");
  await expect(effect(page)).toContainText(/strokes touched/, { timeout: 20_000 });
  await add(page, "Attack and sustain");
  await type(page, "Attack", "-12");
  await expect(effect(page)).toContainText(/, −\d+\.\d at most/, { timeout: 20_000 });
  await add(page, "Band compressor");
  await expect(effect(page)).toContainText(/median \d+\.\d dB of reduction/, { timeout: 20_000 });
  const { song } = await readSong(page.request, id);
  const snare = song.mics.find((m) => partsOf(m.chain).free.some((p) => p.type === "clipper"))!;
  const types = partsOf(snare.chain).free.map((p) => p.type);
  for (const one of ["clipper", "limiter", "transient", "bandCompressor"]) expect(types).toContain(one);
});

test("bands of the EQ come in one by one, and of any shape", async ({ page }) => {
  await openSnare(page);
  await chain(page).getByRole("button", { name: "EQ", exact: true }).click();
  await page.getByRole("button", { name: "Add a band" }).click();
  await expectSaved(page);
  await page.getByRole("button", { name: /more settings/ }).click();
  await page.getByLabel("Band 5 shape").selectOption("notch");
  await expectSaved(page);
  await type(page, "Band 5 of the fundamental", "2");
  const { song } = await readSong(page.request, id);
  const eqs = song.mics.flatMap((m) => m.chain).filter((p) => p.params["bell5Shape"] === "notch");
  expect(eqs).toHaveLength(1);
  expect(eqs[0]!.params).toMatchObject({ bell5Gain: 3, bell5Ratio: 2 });
  expect(eqs[0]!.on).toBe(true);
});

test("what is matched comes out as loud as it went in, and the gain that does it is the make-up", async ({
  page,
}) => {
  await openSnare(page);
  await chain(page).getByRole("button", { name: "Compressor", exact: true }).click();
  await type(page, "Threshold", "-40");
  await expect(effect(page)).toContainText(/loudness −\d+\.\d dB/, { timeout: 20_000 });
  await page.getByRole("button", { name: "Match loudness" }).click();
  await expect(effect(page)).toContainText(/loudness (±0\.0|[+−]0\.1) dB/, { timeout: 20_000 });
  await expectSaved(page);
  const { song } = await readSong(page.request, id);
  const made = song.mics
    .flatMap((m) => m.chain)
    .filter((p) => p.type === "compressor" && p.params["threshold"] === -40);
  expect(made).toHaveLength(1);
  expect(made[0]!.params["makeup"]).toBeGreaterThan(0.3);
  await page.getByRole("button", { name: "Undo" }).first().click();
  await expect(effect(page)).toContainText(/loudness −\d/, { timeout: 20_000 });
});

test("what folding to mono costs is drawn by frequency, and told for the corner that is set", async ({
  page,
}) => {
  await openSnare(page);
  await page.keyboard.press("Escape");
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Kit", exact: true }).first().click();
  await add(page, "Width and place");
  await page.getByRole("button", { name: "What it does" }).click();
  const told = page.getByTestId("fold");
  await expect(told).toContainText(/^folded whole: −?\d+\.\d dB/, { timeout: 60_000 });
  await page.getByLabel("Mono below, typed").fill("200");
  await page.keyboard.press("Enter");
  await expect(told).toContainText(/^folded below 200 Hz: [−+±]?\d+\.\d dB there/, { timeout: 30_000 });
  await expect(page.getByRole("img", { name: /^What folding .* to mono costs/ })).toBeVisible();
});

test("the phase of the EQ is drawn on demand; the kit is turned over and given another pan law in one step each", async ({
  page,
}) => {
  await openSnare(page);
  await chain(page).getByRole("button", { name: "EQ", exact: true }).first().click();
  await page.getByRole("button", { name: "Phase" }).click();
  await expect(page.getByRole("img", { name: /^Phase of the EQ of/ })).toBeVisible();
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Kit", exact: true }).first().click();
  await page.getByLabel("Heard from").selectOption("drummer");
  await expectSaved(page);
  await page.getByLabel("Pan law").selectOption("-6 dB");
  await expectSaved(page);
  const { song } = await readSong(page.request, id);
  const kit = song.buses.find((b) => b.output === null)!;
  expect(kit.chain.find((p) => p.type === "width")).toMatchObject({ on: true, params: { swap: "swapped" } });
  const laws = song.mics.map((m) => m.chain.find((p) => p.type === "pan")!.params["law"]);
  expect(new Set(laws)).toEqual(new Set(["-6 dB"]));
});

test("a space answers with an impulse response that was brought in and is itself not heard", async ({
  page,
  request,
}) => {
  const response = new Float32Array(rate).map((_, i) =>
    i === 0 ? 0 : 0.02 * Math.sin(i * i) * Math.exp(-i / 9000),
  );
  const file = Buffer.from(writeWav({ sampleRate: rate, channels: [response] }, "wav24"));
  expect((await sendFile(request, id, "Stairwell IR.wav", file)).ok()).toBe(true);
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Kit", exact: true }).first().click();
  await add(page, "Recorded space");
  await type(page, "Mix", "30");
  await page.getByLabel("Response").selectOption({ label: "Stairwell IR" });
  await expectSaved(page);
  await page.keyboard.press(" ");
  await expect(page.getByTestId("time")).toHaveText(/0:0[1-9]/, { timeout: 20_000 });
  await expect(page.getByText(/could not be read as a response/)).toHaveCount(0);
  await page.keyboard.press(" ");
  const { song } = await readSong(request, id);
  const ir = song.mics.find((m) => m.file === "Stairwell IR.wav")!;
  expect(ir.piece).toBe("response");
  const kit = song.buses.find((b) => b.output === null)!;
  expect(kit.chain.find((p) => p.type === "recordedSpace")!.response).toBe(ir.id);
  // The server renders with it, too; what it gives is compared in recordedSpace.test.ts.
  await runTask(request, id, "export", {});
  await page.getByRole("button", { name: "Undo" }).first().click();
  await expectSaved(page);
  expect(
    (await readSong(request, id)).song.buses
      .find((b) => b.output === null)!
      .chain.find((p) => p.type === "recordedSpace")!.response ?? null,
  ).toBeNull();
});

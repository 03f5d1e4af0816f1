import { expect, test, type Page } from "@playwright/test";
import { writeWav } from "../src/core/file/wavWrite";
import { mainMic, type Song } from "../src/core/song/song";
import { expectSaved, readSong, sendFile, variedSong } from "./songApi";

const rate = 48000;
let id = "";
/** A bass that plays a long low note with every kick, in the very band of the drum. */
function bassAt(times: readonly number[], frames: number): Float32Array {
  const x = new Float32Array(frames);
  for (const t of times)
    for (let i = 0; i < 0.35 * rate; i++) {
      const at = Math.round(t * rate) + i;
      if (at >= frames) break;
      const note = Math.sin((2 * Math.PI * 62 * i) / rate) + 0.4 * Math.sin((2 * Math.PI * 124 * i) / rate);
      x[at]! += 0.3 * Math.min(1, i / 400) * Math.exp(-i / (0.25 * rate)) * note;
    }
  return x;
}
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Masked", 421, 6);
  const { hits, frames } = (await readSong(request, id)).song;
  const kicks = hits.filter((h) => h.piece === "kick").map((h) => h.time);
  const bass = writeWav({ sampleRate: rate, channels: [bassAt(kicks, frames)] }, "wav24");
  expect((await sendFile(request, id, "Bass DI.wav", Buffer.from(bass))).ok()).toBe(true);
});

const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;
const bassOf = ({ mics }: Song) => mics.find((m) => m.file === "Bass DI.wav")!;
/** What the drum keeps, %, once it is measured. */
async function measured(page: Page, button: string): Promise<number> {
  await page.getByRole("button", { name: button, exact: true }).click();
  await expect(page.getByRole("button", { name: "Measure again" })).toBeEnabled({ timeout: 60_000 });
  await expect(page.getByText("measure again to see it")).toBeHidden();
  const text = (await page.getByTestId("masking").textContent())!;
  expect(text).toMatch(
    /^Kick.* keeps \d+ % of its loudness beside Bass DI, which keeps \d+ %; over \d+ strokes$/,
  );
  return Number(/keeps (\d+) %/.exec(text)![1]);
}

test("a bass covers the kick; a mirrored move and a key make the room that they promise, and are undone", async ({
  page,
}) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  const before = await song(page);
  expect(bassOf(before).piece).toBe("context");
  await page.keyboard.press("5");
  await page.getByRole("button", { name: "Masking …" }).click();
  const kept = await measured(page, "Measure");
  expect(kept).toBeLessThan(85);

  const promised = (await page.getByTestId("masking-after").textContent())!;
  const [, now, then] = /(\d+) % → (\d+) %/.exec(promised)!.map(Number);
  expect(now).toBe(kept);
  expect(then).toBeGreaterThan(kept);
  await page.getByRole("button", { name: "Take the move" }).click();
  await expectSaved(page);
  const taken = await song(page);
  const gainOf = ({ chain }: { chain: Song["mics"][number]["chain"] }) =>
    chain.filter((p) => p.type === "eq").at(-1)!.params["bell1Gain"] as number;
  expect(gainOf(bassOf(taken))).toBeLessThan(0);
  expect(gainOf(mainMic(taken.mics, "kick")!)).toBeGreaterThan(0);
  const after = await measured(page, "Measure again");
  expect(Math.abs(after - then!)).toBeLessThanOrEqual(3);

  await page.getByRole("button", { name: "Keyed down" }).click();
  await page.getByLabel("Shall keep, typed").fill("95");
  await page.keyboard.press("Enter");
  await expect(page.getByTestId("key-depth")).toContainText(/^\d+\.\d dB are enough at nine of ten strokes/);
  await page.getByRole("button", { name: "Key Bass DI down" }).click();
  await expectSaved(page);
  const keyed = bassOf(await song(page)).chain.find((p) => p.type === "compressor" && p.key);
  expect(keyed!.key).toBe(mainMic(taken.mics, "kick")!.id);
  expect(await measured(page, "Measure again")).toBeGreaterThan(after);
  for (let i = 0; i < 2; i++) {
    await page.keyboard.press("Control+z");
    await expectSaved(page);
  }
  expect((await song(page)).mics).toEqual(before.mics);
});

test("what cannot be measured is said in words", async ({ page }) => {
  const answer = await page.request.get(`/api/songs/${id}/masking?of=nobody&by=kit`);
  expect(answer.status()).toBe(404);
  const same = await page.request.get(`/api/songs/${id}/masking?of=kit&by=kit`);
  expect(same.status()).toBe(400);
});

import { expect, test, type Page } from "@playwright/test";
import { beatTitle } from "../demo/beatSong";
import { isLayer, type Song } from "../src/core/song/song";
import { copyOf, expectSaved, readSong } from "./songApi";

let id = "";
test.beforeAll(async ({ request }) => {
  id = await copyOf(request, beatTitle, "Loop of a copy");
});
const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;

test("a song of a loop and one-shots: strokes and tempo from the loop, its drums as tracks, one of them layered, one step back whole", async ({
  page,
}) => {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  const before = await song(page);
  expect(before.mics.map((m) => [m.file, m.piece])).toEqual(
    expect.arrayContaining([
      ["Break loop.wav", "loop"],
      ["Clap samples.wav", "sample"],
      ["Kick one-shots.wav", "sample"],
      ["Bass.wav", "context"],
      ["Pad.wav", "context"],
    ]),
  );
  // 92 bpm, or counted at half of it or twice.
  expect([46, 92, 184].some((bpm) => Math.abs(before.tempo!.bpm - bpm) < 1)).toBe(true);
  expect(new Set(before.hits.map((h) => h.piece))).toEqual(new Set(["kick", "snare", "hat"]));
  await page.keyboard.press("5");
  await page
    .getByRole("button", { name: /Break loop/ })
    .first()
    .click();
  await page.getByRole("button", { name: "Strokes in it …" }).click();
  await expect(page.getByTestId("loop-strokes")).toContainText(/kick \d+, snare \d+, hat \d+/, {
    timeout: 60_000,
  });

  // Drive that follows the kick's strokes in the whole loop: a path beside it, heard and one step.
  await page.getByRole("button", { name: "Add at the strokes of …" }).click();
  await page.getByRole("group", { name: "Kick" }).getByRole("button", { name: "Drive" }).click();
  await expectSaved(page);
  const driven = (await song(page)).buses.find((b) => b.name === "Break loop: drive of kick")!;
  expect(driven).toMatchObject({ piece: "kick", kind: "parallel" });
  expect(driven.chain.map((p) => p.type)).toEqual(["gate", "eq", "saturation"]);
  const fader = page.getByRole("group", { name: "Break loop: drive of kick" }).getByRole("slider");
  await fader.focus();
  await page.keyboard.press("ArrowRight");
  await expectSaved(page);
  expect((await song(page)).buses.find((b) => b.id === driven.id)!.level).toBeGreaterThan(driven.level);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  expect((await song(page)).buses).toEqual(before.buses);
  // Not the one that would do it anew, which is called by the loop as well.
  await page.getByRole("button", { name: /^Loop.*Break loop/ }).click();
  await page.getByRole("button", { name: /^Take apart into/ }).click();
  await expect(page.getByText(/It is muted: where it was taken apart/)).toBeVisible({ timeout: 60_000 });
  const apart = await song(page);
  expect(
    apart.mics.filter((m) => /^Break loop (kick|snare|hat|rest)/.test(m.file)).map((m) => m.piece),
  ).toEqual(["kick", "snare", "hat", "loop"]);

  // The clap goes under the loop's snare.
  await page
    .getByRole("button", { name: /Break loop snare/ })
    .first()
    .click();
  await page.getByRole("button", { name: "Layers …" }).click();
  await page.getByRole("button", { name: "Add a layer" }).click();
  await page.getByRole("button", { name: /From files of the song/ }).click();
  await page.getByLabel(/^Clap samples/).check();
  await page.getByRole("button", { name: "Make the layer" }).click();
  await expect(page.getByTestId("layer-phase")).toContainText(/low end together/, { timeout: 60_000 });
  expect((await song(page)).mics.find(isLayer)!.layer.sounds).toHaveLength(3);
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  const { mics, hits } = await song(page);
  expect(mics).toEqual(before.mics);
  expect(hits).toEqual(before.hits);
});

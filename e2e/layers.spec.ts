import { expect, test, type Page } from "@playwright/test";
import { writeHitsMidi } from "../src/core/file/hitsMidi";
import { writeWav } from "../src/core/file/wavWrite";
import { isLayer, type Hit, type LayerMic, type Song } from "../src/core/song/song";
import { noise } from "../src/core/testing/signals";
import { capture } from "./hook";
import { expectSaved, readSong, render, sendFile, variedSong } from "./songApi";

const rate = 48000;
let id = "";
test.beforeAll(async ({ request }) => {
  test.setTimeout(400_000);
  id = await variedSong(request, "Layers", 421, 6);
});

const song = async (page: Page): Promise<Song> => (await readSong(page.request, id)).song;
const layerOf = (s: Song): LayerMic => s.mics.find(isLayer)!;

async function openLayers(page: Page): Promise<void> {
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("5");
  await page.getByRole("button", { name: /^Snare, \d mics/ }).click();
  await page.getByRole("button", { name: "Layers …" }).click();
}
const words = (page: Page) => page.getByTestId("layer-phase");

test("one-shots are captured, brought into phase, given a part of the sound, and heard live as they are rendered", async ({
  page,
  request,
}) => {
  test.setTimeout(400_000);
  await openLayers(page);
  await page.getByRole("button", { name: "Add a layer" }).click();
  await page.getByRole("button", { name: /From this recording/ }).click();
  await expect(words(page)).toContainText(/low end together/, { timeout: 60_000 });
  const made = layerOf(await song(page));
  expect(made.layer.sounds.filter((s) => s.on).length).toBeGreaterThan(2);
  expect(made.layer.sounds.every((s) => s.cleanDb !== null)).toBe(true);
  // Turned over by hand it takes from the drum; one press brings it back.
  const polarity = made.chain.find((p) => p.type === "polarity")!.id;
  await page.evaluate(
    async ([at, owner, processor]) => {
      const { version } = (await (await fetch(`/api/songs/${at}`)).json()) as { version: number };
      const operation = { op: "setProcessor", owner, processor, params: { polarity: "inverted" } };
      await fetch(`/api/songs/${at}/operations`, {
        method: "POST",
        headers: { "content-type": "application/json" },
        body: JSON.stringify({ version, label: "Turn over", operation }),
      });
    },
    [id, made.id, polarity],
  );
  await openLayers(page);
  await expect(words(page)).toContainText(/low end together −/, { timeout: 60_000 });
  await page.getByRole("button", { name: "Bring into phase" }).click();
  await expect(words(page)).toContainText(/low end together \+/, { timeout: 60_000 });
  const told = /together \+(\d+\.\d) dB, at best \+(\d+\.\d) dB; (\d+) of (\d+)/.exec(
    (await words(page).textContent())!,
  )!;
  expect(Number(told[2]) - Number(told[1])).toBeLessThanOrEqual(0.5);
  expect(Number(told[3])).toBeGreaterThan(0.8 * Number(told[4]));
  await expectSaved(page);
  expect(layerOf(await song(page)).layer.shifts.length).toBeGreaterThan(3);

  await page.getByRole("button", { name: "Stick and air" }).click();
  const low = page.getByTestId("layer-share").getByRole("row").nth(1);
  await expect(low).toContainText("0 %", { timeout: 30_000 });
  await page.getByLabel("Ghost notes").selectOption("are played");
  await expectSaved(page);
  expect(layerOf(await song(page)).layer.ghosts).toBe("play");

  // Nothing has to be found anew for it, and Align shows it beside its drum.
  await page.keyboard.press("1");
  await expect(page.getByText(/strokes found/)).toBeVisible();
  await expect(page.getByText(/found by other labels/)).toHaveCount(0);
  await page.keyboard.press("2");
  await page
    .getByRole("group", { name: "Mics of this drum" })
    .getByRole("button", { name: "Snare layer" })
    .click();
  await expect(words(page)).toContainText(/low end together/, { timeout: 30_000 });

  // The kit with its layer is heard as it is rendered.
  const { names, audioOf } = await render(request, id, { format: "wav32f", stems: true, midi: true });
  const stem = names.find((n) => /Snare layer.*\.wav/.test(n) && !n.includes(", "))!;
  expect(names).toEqual(
    expect.arrayContaining(["Snare layer.mid", expect.stringMatching(/^Snare layer, Stroke at .*\.wav$/)]),
  );
  const offline = await audioOf("kit.wav");
  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.getByRole("button", { name: "Play", exact: true }).click();
  await page.waitForTimeout(1500);
  const { position, left } = await capture(page, rate);
  const [layer] = await audioOf(stem);
  expect(Math.max(...layer!.subarray(position, position + rate).map(Math.abs))).toBeGreaterThan(0.001);
  let most = 0;
  for (let i = 0; i < left.length; i++)
    most = Math.max(most, Math.abs(left[i]! - offline[0]![position + i]!));
  expect(Math.max(...left.map(Math.abs))).toBeGreaterThan(0.02);
  expect(most).toBeLessThanOrEqual(2 ** -24);
});

test("files become a layer that plays the notes of a MIDI file, one step back they are files, and the archive keeps it", async ({
  page,
  request,
}) => {
  test.setTimeout(200_000);
  const shot = new Float32Array(9000);
  shot.set(
    noise(6000, 8).map((v, i) => v * Math.exp(-i / 1500)),
    200,
  );
  expect(
    (
      await sendFile(
        request,
        id,
        "Smack sample.wav",
        Buffer.from(writeWav({ sampleRate: rate, channels: [shot] }, "wav24")),
      )
    ).ok(),
  ).toBe(true);
  await openLayers(page);
  const before = (await song(page)).mics.length;
  await page.getByRole("button", { name: "Add a layer" }).click();
  await page.getByRole("button", { name: /From files of the song/ }).click();
  await page.getByLabel(/^Smack sample/).check();
  await page.getByRole("button", { name: "Make the layer" }).click();
  await expect(page.getByRole("button", { name: /^Hear Smack sample/ })).toBeVisible({ timeout: 30_000 });
  expect((await song(page)).mics).toHaveLength(before);
  const hits = [1, 2, 3].map((time): Hit => ({
    piece: "crash",
    time,
    levelDb: -6,
    ghost: false,
    kind: "stroke",
    sure: 1,
  }));
  await page.getByLabel(/^MIDI file with strokes/).setInputFiles({
    name: "notes.mid",
    mimeType: "audio/midi",
    buffer: Buffer.from(writeHitsMidi(hits, null, "x")),
  });
  await expect(page.getByLabel("Crash cymbal 1: 3 notes")).toBeChecked();
  await page.getByRole("button", { name: "Play these" }).click();
  await expectSaved(page);
  const played = (await song(page)).mics.filter(isLayer).find((m) => m.layer.strokes)!;
  expect(played.layer.strokes!.map((s) => Math.round(1000 * s.time))).toEqual([1000, 2000, 3000]);
  await page
    .getByLabel(/^MIDI file with strokes/)
    .setInputFiles({ name: "broken.mid", mimeType: "audio/midi", buffer: Buffer.from("no midi") });
  await expect(page.getByText(/broken.mid .*The layer stays as it is/)).toBeVisible();
  const archive = await request.get(`/api/songs/${id}/archive`);
  const again = await request.post("/api/archives", {
    data: await archive.body(),
    headers: { "content-type": "application/zip" },
  });
  const copy = (await readSong(request, ((await again.json()) as { id: string }).id)).song;
  expect(copy.mics.filter(isLayer).map((m) => m.layer)).toEqual(
    (await song(page)).mics.filter(isLayer).map((m) => m.layer),
  );
  await page.keyboard.press("Control+z");
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  expect((await song(page)).mics.some((m) => m.file === "Smack sample.wav")).toBe(true);
});

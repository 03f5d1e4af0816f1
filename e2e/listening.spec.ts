import { expect, test, type Page } from "@playwright/test";
import { barLines } from "../src/core/grid/bars";
import { capture, nextState, type Hook } from "./hook";
import { expectSaved, readSong } from "./songApi";

const rate = 48000;
const rms = (x: number[]) => Math.sqrt(x.reduce((s, v) => s + v * v, 0) / x.length);

async function openDemo(page: Page): Promise<void> {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
}
const play = async (page: Page) => {
  await page.keyboard.press(" ");
  await expect(page.getByRole("button", { name: "Stop", exact: true })).toBeVisible();
};
const chooseSnare = (page: Page) => page.getByRole("button", { name: /^Snare, 2 mics/ }).click();

test("strokes of one drum follow each other, and the song stops behind the last", async ({ page }) => {
  await openDemo(page);
  await page.getByRole("button", { name: /^Floor tom, 1 mic/ }).click();
  await page.keyboard.press("j");
  await expect(page.getByRole("button", { name: "Strokes" })).toHaveAttribute("aria-pressed", "true");
  // Positions only move within strokes: most of the song is never heard.
  const seen = await page.evaluate(
    () =>
      new Promise<number[]>((resolve) => {
        const list: number[] = [];
        const stop = (window as unknown as { jubo: Hook }).jubo.onState((s) => {
          list.push(s.position);
          if (list.length === 240) {
            stop();
            resolve(list);
          }
        });
      }),
  );
  const travelled = (seen[seen.length - 1]! - seen[0]!) / rate;
  expect(travelled).toBeGreaterThan(6); // four seconds of listening lead through more of the song
  await page.keyboard.press("j");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: "Strokes" })).toHaveAttribute("aria-pressed", "false");
});

test("a change, and its undo, while it plays break nothing off", async ({ page }) => {
  await openDemo(page);
  await chooseSnare(page);
  await play(page);
  await expect.poll(async () => (await nextState(page)).position).toBeGreaterThan(rate / 2);
  const before = await nextState(page);
  await page.keyboard.press("m");
  await expectSaved(page);
  await page.keyboard.press("Control+z");
  await expect(page.getByRole("button", { name: /^Redo/ })).toBeEnabled();
  await expectSaved(page);
  const after = await nextState(page);
  expect(after.playing).toBe(true);
  expect(after.position).toBeGreaterThan(before.position);
  expect(after.generation).toBe(before.generation);
});

test("strokes of one drum are heard alone, and the song stays as it is", async ({ page }) => {
  await openDemo(page);
  await chooseSnare(page);
  const solos = page.getByRole("button", { name: /^Solo / });
  const pressed = () =>
    solos.evaluateAll((list) => list.filter((b) => b.getAttribute("aria-pressed") === "true").length);
  const undo = page.getByRole("button", { name: /^Undo/ });
  const before = await undo.getAttribute("title");
  await page.keyboard.press("Shift+J");
  await expect(page.getByRole("button", { name: "Strokes" })).toHaveAttribute("aria-pressed", "true");
  await expect.poll(pressed).toBe(2); // top and bottom
  await page.keyboard.press("Shift+J");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
  await expect.poll(pressed).toBe(0);
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  expect(await undo.getAttribute("title")).toBe(before);
});

test("bars, the section and one stroke can be looped; a section can be made of the loop", async ({
  page,
}) => {
  await openDemo(page);
  const name = `Pier ${Date.now() % 100000}`;
  await page.getByRole("button", { name: "What to loop" }).click();
  await page.getByRole("button", { name: "1 bar", exact: true }).click();
  await expect(page.getByRole("button", { name: "Loop", exact: true })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await play(page);
  await page.waitForTimeout(6000);
  const { position } = await capture(page, 128);
  expect(position).toBeLessThan(4 * rate); // a bar at 100 bpm is 2.4 s
  // Behind the loop it plays on and stops at the end of the song; from there it begins anew with the loop.
  const { song: whole } = await readSong(page.request, /songs\/([^/?#]+)/.exec(page.url())![1]!);
  await page.evaluate(
    (frame) => (window as unknown as { jubo: Hook }).jubo.seek(frame),
    Math.max(...whole.mics.map((m) => m.start + m.frames)) - rate,
  );
  await expect.poll(async () => (await nextState(page)).playing).toBe(false);
  expect((await nextState(page)).starved).toBe(0);
  await play(page);
  expect((await capture(page, 128)).position).toBeLessThan(4 * rate);
  await page.keyboard.press(" ");
  await page.getByRole("button", { name: "What to loop" }).click();
  await page.getByRole("textbox", { name: "Name of the section" }).fill(name);
  await page.getByRole("button", { name: "Make" }).click();
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  await page.keyboard.press("Escape");
  await page.keyboard.press("5");
  await chooseSnare(page);
  const holds = page.getByRole("combobox", { name: "Where the values hold" });
  await expect(holds.getByRole("option", { name })).toBeAttached();
  // A value of the section stays its own, is marked, survives a reload and can be taken back.
  const gain = page.getByLabel("Band 1 gain, typed");
  const song = await gain.inputValue();
  await holds.selectOption({ label: name });
  await gain.fill("-9 dB");
  await gain.press("Enter");
  await expect(page.getByRole("button", { name: "as in the song" })).toBeVisible();
  await holds.selectOption({ label: "whole song" });
  await expect(gain).toHaveValue(song);
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  // The address holds step and drum.
  await expect(page.getByRole("button", { name: /^Snare, 2 mics/ })).toHaveAttribute("aria-pressed", "true");
  await holds.selectOption({ label: `• ${name}` });
  await expect(gain).toHaveValue("−9 dB");
  await page.getByRole("button", { name: "as in the song" }).click();
  await expect(gain).toHaveValue(song);
});

test("ways of listening: mono, small loudspeaker, dimmed", async ({ page }) => {
  await openDemo(page);
  await page.getByRole("button", { name: "What to loop" }).click();
  await page.getByRole("button", { name: "1 bar", exact: true }).click();
  await play(page);
  // Exactly once round: a few frames more or less of a loud stroke would count.
  const { song } = await readSong(page.request, /songs\/([^/?#]+)/.exec(page.url())![1]!);
  const [first, second] = barLines(song.tempo!);
  const bar = Math.round(second!.seconds * rate) - Math.round(first!.seconds * rate);
  // Once round the loop first: from then on what rings over its end is there every time.
  await capture(page, bar);
  const plain = await capture(page, bar);
  expect(Math.max(...plain.left.map((v, i) => Math.abs(v - plain.right[i]!)))).toBeGreaterThan(0.001);
  await page.keyboard.press("n");
  await page.waitForTimeout(300);
  const mono = await capture(page, 4800);
  expect(mono.left).toEqual(mono.right);
  await page.keyboard.press("n");
  await page.keyboard.press("q");
  await page.waitForTimeout(300);
  const dim = await capture(page, bar);
  expect(20 * Math.log10(rms(dim.left) / rms(plain.left))).toBeCloseTo(-20, 0);
});

test("a blind comparison shuffles the sides and says in the end how often the choice was the same", async ({
  page,
}) => {
  await openDemo(page);
  await page.getByRole("button", { name: "Compare blind" }).click();
  const blind = page.getByRole("group", { name: "Blind comparison" });
  for (let i = 0; i < 5; i++) {
    await blind.getByRole("button", { name: i % 2 ? "one" : "two" }).click();
    await blind.getByRole("button", { name: /^Better/ }).click();
  }
  await blind.getByRole("button", { name: "Reveal" }).click();
  await expect(page.getByTestId("blind-result")).toHaveText(/^with(out)?: [345] of 5 times$/);
  await blind.getByRole("button", { name: "Done" }).click();
  await expect(page.getByRole("button", { name: "difference" })).toBeVisible();
});

test("an earlier state is compared with at the same playhead, matched", async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press("6");
  const level = page.getByLabel("Level of Kit, typed");
  await level.fill("-6 dB");
  await level.press("Enter");
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  await page.getByRole("combobox", { name: "What is compared" }).selectOption("version");
  const states = page.getByRole("combobox", { name: "Earlier state" });
  await expect(states.getByRole("option").nth(1)).toContainText("level of Kit");
  await states.selectOption({ index: 1 });
  await play(page);
  await expect(page.getByTestId("match")).toHaveText(/matched by −6\.\d dB|matched by −5\.\d dB/, {
    timeout: 15000,
  });
  await page.keyboard.press("c");
  await expect(page.getByRole("button", { name: "then" })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press(" ");
  await page.getByRole("button", { name: /^Undo/ }).click();
});

test("a count-in is heard before the song, half speed moves half as fast", async ({ page }) => {
  await openDemo(page);
  await page.getByRole("button", { name: "Count-in" }).click();
  await play(page);
  await page.waitForTimeout(1200);
  await expect(page.getByTestId("time")).toHaveText("0:00.0"); // a bar at 100 bpm is 2.4 s
  await expect(page.getByTestId("time")).not.toHaveText("0:00.0", { timeout: 8000 });
  await page.keyboard.press("h");
  // By the clock of the audio output, and where the machine kept up: a slow one plays late, not slower.
  const rateNow = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const { jubo } = window as unknown as { jubo: Hook };
          let first: { position: number; at: number; starved: number } | null = null;
          const stop = jubo.onState(({ position, starved }) => {
            const at = jubo.audio().currentTime;
            first ??= { position, at, starved };
            if (at - first.at < 2) return;
            stop();
            resolve(starved > first.starved ? NaN : (position - first.position) / (at - first.at) / 48000);
          });
        }),
    );
  await expect.poll(rateNow, { timeout: 60000 }).toBeCloseTo(0.5, 1);
});

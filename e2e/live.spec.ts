import { expect, test, type APIRequestContext, type Page } from "@playwright/test";
import { newBus } from "../src/core/song/create";
import type { Operation } from "../src/core/song/operations";
import { capture, type Hook, type State } from "./hook";
import { noiseWav } from "./kit";
import { render, sendFile } from "./songApi";

const rate = 48000;
const stateOf = (page: Page): Promise<State> =>
  page.evaluate(
    () =>
      new Promise<State>((resolve) => {
        const { jubo } = window as unknown as { jubo: Hook };
        const stop = jubo.onState((s) => {
          stop();
          resolve(s);
        });
      }),
  );
/** Largest step from one sample to the next. */
const largestStep = (x: number[]) => x.reduce((m, v, i) => (i ? Math.max(m, Math.abs(v - x[i - 1]!)) : m), 0);

/** A song of three mics of steady noise, whose level tells at once what is heard. */
async function openNoise(
  page: Page,
  request: APIRequestContext,
  kitDb = 0,
  more: readonly Operation[] = [],
): Promise<void> {
  const made = await request.post("/api/songs", { data: { title: "Steady noise" } });
  const { id } = (await made.json()) as { id: string };
  for (const [i, name] of ["Kick.wav", "Snare.wav", "Hat.wav"].entries())
    await sendFile(request, id, name, noiseWav(30 * rate, "wav24", i + 1));
  const { version } = (await (await request.get(`/api/songs/${id}`)).json()) as { version: number };
  const operations = [{ op: "setBus", bus: "kit", values: { level: kitDb } }, ...more];
  const changed = await request.post(`/api/songs/${id}/operations`, {
    data: { version, label: "kit", operation: { op: "several", operations } },
  });
  expect(changed.ok()).toBe(true);
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
}
const play = async (page: Page) => {
  await page.keyboard.press(" ");
  await expect(page.getByTestId("time")).not.toHaveText("0:00.0", { timeout: 15000 });
};
const powerDb = (x: number[]) => 10 * Math.log10(x.reduce((s, v) => s + v * v, 0) / x.length + 1e-12);

test("the worklet's samples are those of the offline render, to a rounding of the last bit", async ({
  page,
  request,
}) => {
  test.setTimeout(240_000);
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  const id = new URL(page.url()).pathname.split("/").pop()!;
  for (const key of ["1", "2", "4", "5", "6"]) {
    await page.keyboard.press(key); // proposals of all steps, so that every part is at work
    await page.getByRole("button", { name: /^Take all/ }).click();
  }
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  const { audioOf } = await render(request, id, { format: "wav32f" });
  const offline = await audioOf("kit.wav");
  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await play(page);
  const { position, left, right } = await capture(page, rate);
  let most = 0;
  for (let i = 0; i < left.length; i++) {
    most = Math.max(most, Math.abs(left[i]! - offline[0]![position + i]!));
    most = Math.max(most, Math.abs(right[i]! - offline[1]![position + i]!));
  }
  expect(Math.max(...left.map(Math.abs))).toBeGreaterThan(0.02);
  // Nearly always they are equal; a sum that was rounded otherwise once differs by 2^-25.
  expect(most).toBeLessThanOrEqual(2 ** -24);
});

/** Moves in the page, by name. */
type Move = "mute" | "trim" | "side" | "chain" | "way";

/** Does something in the page 200 ms into a capture; tells how late it is heard and what was captured. */
async function timeMove(page: Page, move: Move): Promise<{ late: number; left: number[] }> {
  const result = await page.evaluate(async (name) => {
    const { jubo } = window as unknown as { jubo: Hook };
    let seen = { position: 0, at: 0 };
    const stop = jubo.onState((s) => (seen = { position: s.position, at: performance.now() }));
    const recording = jubo.capture(24000);
    await new Promise((resolve) => setTimeout(resolve, 200));
    const moved = seen.position + ((performance.now() - seen.at) * 48000) / 1000;
    if (name === "mute") document.querySelector<HTMLButtonElement>('[aria-label="Mute Snare"]')!.click();
    if (name === "chain")
      document.querySelector<HTMLButtonElement>('[aria-label="Take Compressor out"]')!.click();
    if (name === "way") {
      const goes = document.querySelector<HTMLSelectElement>('[aria-label="Kick goes to"]')!;
      Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value")!.set!.call(goes, "quiet");
      goes.dispatchEvent(new Event("change", { bubbles: true }));
    }
    if (name === "side")
      document.body.dispatchEvent(new KeyboardEvent("keydown", { key: "c", bubbles: true }));
    if (name === "trim") {
      // As when one types: the value through the field's own setter, which React follows, then leaving it.
      const field = document.querySelector<HTMLInputElement>('[aria-label="Trim of Snare.wav"]')!;
      field.focus();
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value")!.set!.call(field, "-30 dB");
      field.dispatchEvent(new Event("input", { bubbles: true }));
      await Promise.resolve();
      field.blur();
    }
    const { position, channels } = await recording;
    stop();
    return { moved, position, left: Array.from(channels[0]!) };
  }, move);
  const power = (i: number) => powerDb(result.left.slice(i, i + 960));
  const before = powerDb(result.left.slice(0, 4800));
  const after = powerDb(result.left.slice(-4800));
  // Not heard within what was captured: as late as can be.
  if (before - after <= 1.2) return { late: Infinity, left: result.left };
  // The first 20 ms that lie nearer to the new power than to the old one: half of them are behind the change.
  let heard = 0;
  while (heard + 960 < result.left.length && power(heard) > (before + after) / 2) heard += 48;
  expect(heard + 960).toBeLessThan(result.left.length);
  return { late: (1000 * (result.position + heard + 480 - result.moved)) / rate, left: result.left };
}

test.describe("a move is heard within 50 ms, without a click", () => {
  for (const [name, move] of [
    ["a mute", "mute"],
    ["a parameter of a processor", "trim"],
    ["the other side of a comparison", "side"],
  ] as const)
    test(name, async ({ page, request }) => {
      let late = Infinity;
      // A busy machine can only make it later than it is: the best of three counts.
      for (let tries = 0; tries < 3 && late > 50 + 16; tries++) {
        await openNoise(page, request);
        if (move === "side") {
          // Unmatched, the untreated side of a kit whose bus is up by 6 dB is that much quieter.
          await page.getByRole("checkbox", { name: "Match loudness" }).uncheck();
          await page.keyboard.press("6");
          const level = page.getByLabel("Level of Kit, typed");
          await level.fill("6 dB");
          await level.press("Enter");
        }
        await play(page);
        await page.waitForTimeout(1200);
        const timed = await timeMove(page, move);
        late = timed.late;
        process.stdout.write(`    ${name}: heard ${late.toFixed(1)} ms after the move\n`);
        expect(largestStep(timed.left)).toBeLessThan(1.35 * largestStep(timed.left.slice(0, 4800)));
      }
      expect(late).toBeGreaterThan(-25);
      expect(late).toBeLessThan(50 + 16); // the page reads the playhead once a frame: that is how well "moved" is known
    });
});

test.describe("a structure that changes while it plays is heard within 100 ms, without gap or click", () => {
  for (const [name, move] of [
    ["a processor less on the kit", "chain"],
    ["a mic that goes to another bus", "way"],
  ] as const)
    test(name, async ({ page, request }) => {
      let late = Infinity;
      for (let tries = 0; tries < 3 && late > 100 + 16; tries++) {
        await openNoise(page, request, 0, [
          {
            op: "setProcessor",
            owner: "kit",
            processor: "kit.compressor",
            on: true,
            params: { threshold: 0, makeup: 8 },
          },
          {
            op: "addBuses",
            buses: [{ ...newBus("quiet", "Quiet", "group"), level: -60 }],
            order: ["quiet", "shells", "cymbals", "squash", "grit", "room", "kit"],
          },
        ]);
        await page.keyboard.press("6");
        await play(page);
        await page.waitForTimeout(1200);
        const starved = (await stateOf(page)).starved;
        const timed = await timeMove(page, move);
        late = timed.late;
        process.stdout.write(`    ${name}: heard ${late.toFixed(1)} ms after the move\n`);
        const steady = timed.left.slice(0, 4800);
        expect(largestStep(timed.left)).toBeLessThan(1.35 * largestStep(steady));
        // No gap: nowhere 10 ms that are far below what comes after.
        const end = powerDb(timed.left.slice(-4800));
        for (let i = 0; i + 480 < timed.left.length; i += 240)
          expect(powerDb(timed.left.slice(i, i + 480))).toBeGreaterThan(end - 4);
        expect((await stateOf(page)).starved).toBe(starved);
      }
      expect(late).toBeLessThan(100 + 16);
    });
});

test("compare is matched in loudness and switches without a gap", async ({ page, request }) => {
  await openNoise(page, request, -12);
  await play(page);
  await page.waitForTimeout(2500);
  await expect(page.getByTestId("match")).toHaveText(/matched by −1[12]\.\d dB/);
  const withIt = await capture(page, rate / 2);
  await page.keyboard.press("c");
  await page.waitForTimeout(100);
  const without = await capture(page, rate / 2);
  expect(Math.abs(powerDb(withIt.left) - powerDb(without.left))).toBeLessThan(0.5);
  await page.getByRole("checkbox", { name: "Match loudness" }).uncheck();
  await page.waitForTimeout(200);
  await expect(page.getByTestId("match")).toHaveText("not matched");
  const loud = await capture(page, rate / 2);
  expect(powerDb(loud.left) - powerDb(withIt.left)).toBeGreaterThan(11);
});

/** Seconds of abuse; the soak run of docs/performance.md sets 600. */
const abuseSeconds = Number(process.env["JUBO_ABUSE_SECONDS"] ?? 12);

test.describe("abuse", () => {
  // Seen to fail once in five runs on a machine that others share, with 1 and 3 drop-outs; the cause was not found. What fails three
  // times in a row is ours.
  test.describe.configure({ retries: 2 });
  test("loops, jumps and changes of sides play on without a drop-out, and memory stays", async ({
    page,
    request,
  }) => {
    test.setTimeout(60_000 + 1200 * abuseSeconds);
    await openNoise(page, request);
    await play(page);
    await page.waitForTimeout(1500);
    const heap = () =>
      page.evaluate(async () => {
        const measure = (
          performance as unknown as { measureUserAgentSpecificMemory?: () => Promise<{ bytes: number }> }
        ).measureUserAgentSpecificMemory;
        return measure ? (await measure.call(performance)).bytes / 1e6 : 0;
      });
    const long = abuseSeconds >= 120;
    const abuse = (seconds: number) =>
      page.evaluate(
        async ([duration, frames]) => {
          const { jubo } = window as unknown as { jubo: Hook };
          const key = (k: string) =>
            document.body.dispatchEvent(new KeyboardEvent("keydown", { key: k, bubbles: true }));
          const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
          const end = performance.now() + 1000 * duration!;
          let moves = 0;
          for (let r = 1; performance.now() < end; r = (r * 16807) % 2147483647) {
            const choice = r % 7;
            if (choice < 3) jubo.seek(r % frames!);
            else if (choice < 5) key("c");
            else if (choice === 5) key("l");
            else key("ArrowRight");
            moves++;
            await pause(20 + (r % 400));
          }
          return moves;
        },
        [seconds, 25 * rate],
      );
    // The first fifth warms up: pages are fetched, code is compiled.
    const warm = await abuse(abuseSeconds / 5);
    const before = long ? await heap() : 0;
    const moves = warm + (await abuse((4 * abuseSeconds) / 5));
    const state = await stateOf(page);
    if (long) {
      const after = await heap();
      process.stdout.write(
        `    ${moves} moves in ${abuseSeconds} s, memory ${before.toFixed(0)} to ${after.toFixed(0)} MB\n`,
      );
      expect(after - before).toBeLessThan(20);
    }
    expect(moves).toBeGreaterThan(2 * abuseSeconds);
    expect(state.playing).toBe(true);
    expect(state.starved).toBe(0);
  });
});

test("a suspended output, an unreachable server and the end of the song are said, and playing goes on", async ({
  page,
  request,
}) => {
  await openNoise(page, request);
  await play(page);
  await page.waitForTimeout(600);
  await page.evaluate(() => (window as unknown as { jubo: Hook }).jubo.audio().suspend());
  await expect
    .poll(() => page.evaluate(() => (window as unknown as { jubo: Hook }).jubo.audio().state))
    .toBe("running");
  const one = (await stateOf(page)).position;
  await expect.poll(async () => (await stateOf(page)).position).toBeGreaterThan(one + 4800);
  // The server goes away: what is in the ring plays on, then it is said; when it is back, so is the sound.
  await page.context().route("**/api/audio?*", (route) => route.abort());
  await page.evaluate((frame) => (window as unknown as { jubo: Hook }).jubo.seek(frame), 18 * rate);
  await expect(page.getByText(/^Waiting for audio/)).toBeVisible();
  await page.context().unroute("**/api/audio?*");
  await expect(page.getByText(/^Waiting for audio/)).toBeHidden();
  await expect.poll(async () => (await stateOf(page)).position).toBeGreaterThan(18 * rate + 4800);
  await page.evaluate((frame) => (window as unknown as { jubo: Hook }).jubo.seek(frame), 29 * rate);
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
});

test("an output that stands still is set up anew where the playhead was", async ({ page, request }) => {
  await openNoise(page, request);
  await play(page);
  await page.waitForTimeout(600);
  // A device that vanishes: the context keeps saying that it runs, but time stands still.
  await page.evaluate(() => {
    const context = (window as unknown as { jubo: Hook }).jubo.audio();
    Object.defineProperty(context, "currentTime", { get: () => 1 });
  });
  // What waits to be heard meanwhile is not lost with the output: longer than the old one still lives.
  const waiting = capture(page, 4 * rate);
  await expect(page.getByText("The audio output was lost")).toBeVisible();
  await expect(page.getByText("The audio output was lost")).toBeHidden();
  const { position } = await stateOf(page);
  expect(position).toBeGreaterThan(0.6 * rate);
  expect((await waiting).left).toHaveLength(4 * rate);
  await expect.poll(async () => (await stateOf(page)).position).toBeGreaterThan(position + 4800);
});

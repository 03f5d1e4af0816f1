import { expect, test, type APIRequestContext, type Page } from "@playwright/test";
import { readWav } from "../src/core/file/wav";
import type { Song } from "../src/core/song/song";

interface Captured {
  position: number;
  left: number[];
  right: number[];
}
/** Captures the worklet's next frames in the page. */
const capture = (page: Page, frames: number): Promise<Captured> =>
  page.evaluate(async (n) => {
    const { jubo } = window as unknown as {
      jubo: { capture(n: number): Promise<{ position: number; channels: Float32Array[] }> };
    };
    const { position, channels } = await jubo.capture(n);
    return { position, left: Array.from(channels[0]!), right: Array.from(channels[1]!) };
  }, frames);
const openDemo = async (page: Page): Promise<string> => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  return page.url().split("/").pop()!;
};
const playing = async (page: Page) => {
  await page.keyboard.press(" ");
  await expect(page.getByTestId("time")).not.toHaveText("0:00.0");
};
async function exportKit(request: APIRequestContext, id: string): Promise<Float32Array[]> {
  let task = (await (
    await request.post(`/api/songs/${id}/tasks`, { data: { kind: "export", options: { format: "wav32f" } } })
  ).json()) as { id: string; state: string; result: { files: { id: string; name: string }[] } };
  await expect
    .poll(async () => (task = await (await request.get(`/api/tasks/${task.id}`)).json()).state, {
      timeout: 90_000,
    })
    .toBe("done");
  const kit = task.result.files.find((f) => f.name === "kit.wav")!;
  return readWav(new Uint8Array(await (await request.get(`/api/files/${kit.id}`)).body())).channels;
}

test("the worklet's samples are those of the offline render", async ({ page, request }) => {
  const id = await openDemo(page);
  // Every part at work: proposals of all steps are taken in the song's own operations.
  for (const key of ["1", "2", "4", "5", "6"]) {
    await page.keyboard.press("k");
    await page.keyboard.press(key);
    await page.getByRole("button", { name: /^Take all/ }).click();
  }
  await expect(page.getByText("saved", { exact: true })).toBeVisible();
  const offline = await exportKit(request, id);
  await page.reload();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.evaluate(() => (window as unknown as { jubo: { seek(frame: number): void } }).jubo.seek(0));
  const started = page.keyboard.press(" ");
  await expect.poll(() => page.getByTestId("time").innerText()).not.toBe("0:00.0");
  await started;
  const { position, left, right } = await capture(page, 48000);
  const { song } = (await (await request.get(`/api/songs/${id}`)).json()) as { song: Song };
  expect(position).toBeGreaterThan(0);
  expect(position).toBeLessThan(song.frames / 2);
  // Playback began at the first frame, so every state is the same as offline: equal to the last bit.
  let most = 0;
  for (let i = 0; i < left.length; i++)
    most = Math.max(
      most,
      Math.abs(left[i]! - offline[0]![position + i]!),
      Math.abs(right[i]! - offline[1]![position + i]!),
    );
  expect(Math.max(...left.map(Math.abs))).toBeGreaterThan(0.05);
  expect(most).toBe(0);
});

test("a move is heard within 50 ms, without a click", async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press("6");
  await playing(page);
  await page.waitForTimeout(1500);
  const kit = page.getByLabel("Level of Kit, typed");
  const recording = capture(page, 48000);
  const before = await page.evaluate(() => performance.now());
  await kit.fill("-40");
  await page.keyboard.press("Enter");
  await recording;
  const { left } = await capture(page, 4800);
  expect((await page.evaluate(() => performance.now())) - before).toBeLessThan(5000);
  expect(Math.max(...left.map(Math.abs))).toBeLessThan(0.02);
  await page.getByRole("button", { name: /^Undo/ }).click();
});

test("compare is matched in loudness and switches at the same playhead", async ({ page }) => {
  await openDemo(page);
  await playing(page);
  await page.waitForTimeout(2500);
  await expect(page.getByTestId("match")).toHaveText(/matched by [+−±]\d+\.\d dB/);
  const power = (x: number[]) => 10 * Math.log10(x.reduce((s, v) => s + v * v, 0) / x.length);
  const withIt = await capture(page, 48000 * 2);
  await page.keyboard.press("c");
  const without = await capture(page, 48000 * 2);
  expect(Math.abs(power(withIt.left) - power(without.left))).toBeLessThan(4);
  expect(without.position - withIt.position).toBeLessThan(48000 * 4);
  await page.getByRole("checkbox", { name: /matched/ }).uncheck();
  await expect(page.getByTestId("match")).toHaveText("not matched");
});

test("a loop and many jumps play on without a drop-out", async ({ page }) => {
  await openDemo(page);
  await page.keyboard.press("l");
  await playing(page);
  const starved = () =>
    page.evaluate(
      () =>
        new Promise<number>((resolve) => {
          const { jubo } = window as unknown as {
            jubo: { onState(f: (s: { starved: number }) => void): () => void };
          };
          const stop = jubo.onState((s) => {
            stop();
            resolve(s.starved);
          });
        }),
    );
  await page.waitForTimeout(1500);
  const before = await starved();
  await page.waitForTimeout(6000); // over the seam of the two-bar loop
  expect(await starved()).toBe(before);
  await page.keyboard.press("l");
  for (let i = 0; i < 12; i++) {
    await page.keyboard.press(i % 3 ? "ArrowRight" : "Home");
    await page.waitForTimeout(120);
  }
  const time = await page.getByTestId("time").innerText();
  await expect(page.getByTestId("time")).not.toHaveText(time);
});

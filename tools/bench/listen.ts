import { chromium, type Browser, type Page } from "@playwright/test";
import { base } from "./client";
import { median, note, percentile } from "./table";

const rate = 48000;

interface Hook {
  capture(frames: number): Promise<{ position: number }> | undefined;
  seek(frame: number): void;
  onState(watch: (s: { starved: number }) => void): () => void;
}

async function openPage(): Promise<{ browser: Browser; page: Page }> {
  const browser = await chromium.launch({
    executablePath: process.env["CHROMIUM"] ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--autoplay-policy=no-user-gesture-required"],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.addInitScript(() => localStorage.setItem("jubo.help", JSON.stringify({ offered: true })));
  return { browser, page };
}

/** Share of a core that the page's main thread takes in one of the steps, over five seconds, percent. */
async function mainThread(page: Page, step: string): Promise<number> {
  const devtools = await page.context().newCDPSession(page);
  await devtools.send("Performance.enable");
  const busy = async () =>
    (await devtools.send("Performance.getMetrics")).metrics.find((m) => m.name === "TaskDuration")!.value;
  await page.getByRole("navigation").getByText(step).first().click();
  await page.waitForTimeout(3000);
  const [from, before] = [performance.now(), await busy()];
  await page.waitForTimeout(5000);
  const share = (100 * (await busy()) - 100 * before) / ((performance.now() - from) / 1000);
  await devtools.detach();
  return share;
}

/** Milliseconds from a click on play, or a jump, to the first block that comes out of the worklet there. */
const untilHeard = (page: Page, frame: number | null): Promise<number> =>
  page.evaluate(async (target) => {
    const { jubo } = window as unknown as { jubo: Hook };
    const from = performance.now();
    if (target === null) document.querySelector<HTMLButtonElement>(".transport .play")!.click();
    else jubo.seek(target);
    while (performance.now() - from < 10000) {
      const heard = jubo.capture(128);
      const wait = new Promise<null>((resolve) => setTimeout(() => resolve(null), 25));
      const block = heard ? await Promise.race([heard, wait]) : await wait;
      const start = target ?? 0;
      if (block && block.position >= start - 256 && block.position < start + 40000)
        return performance.now() - from;
    }
    throw new Error("nothing was heard in ten seconds");
  }, frame);

/** Play, jumps in and out of memory, drop-outs, and what the page takes of a core while it plays. */
export async function listen(song: string, label: string, minutes: number): Promise<void> {
  const { browser, page } = await openPage();
  await page.goto(`${base}/songs/${song}`);
  await page.waitForSelector(".kit-plan svg");
  await page.waitForTimeout(1000);
  note({
    name: `${label}: play to first sound`,
    value: await untilHeard(page, null),
    unit: "ms",
    budget: "1000",
  });
  await page.waitForTimeout(2000);
  const cold: number[] = [];
  for (let i = 0; i < 20; i++) {
    cold.push(await untilHeard(page, Math.floor((0.05 + 0.9 * ((i * 0.618) % 1)) * minutes * 60 * rate)));
    await page.waitForTimeout(600);
  }
  note({ name: `${label}: jump to sound, not in memory`, value: median(cold), unit: "ms", budget: "150" });
  note({ name: "  9 of 10 below", value: percentile(cold, 0.9), unit: "ms" });
  const warm: number[] = [];
  for (let i = 0; i < 10; i++) {
    warm.push(await untilHeard(page, (20 + (i % 3)) * rate));
    await page.waitForTimeout(400);
  }
  note({ name: `${label}: jump to sound, in memory`, value: median(warm.slice(3)), unit: "ms" });
  for (const step of ["Gather", "Blend"])
    note({
      name: `${label}: main thread while it plays, ${step}`,
      value: await mainThread(page, step),
      unit: "%",
      budget: "30",
    });
  const starved = await page.evaluate(
    () =>
      new Promise<number>((resolve) => {
        const stop = (window as unknown as { jubo: Hook }).jubo.onState((s) => {
          stop();
          resolve(s.starved);
        });
      }),
  );
  note({ name: `${label}: drop-outs`, value: starved, unit: "", budget: "0" });
  await browser.close();
}

// Benchmarks of the running application at BASE_URL: import, analysis, render, opening and seeking in a real browser, and
// how they grow with minutes and mics. The song is the simulated demo kit, repeated.
import { chromium, type Page } from "@playwright/test";
import { simulate } from "../../demo/simulate";
import { variedKit } from "../../demo/varied";
import { writeWav } from "../../src/core/file/wavWrite";
import { median, note, percentile, save, secondsOf } from "./table";

const base = process.env["BASE_URL"]!;
const rate = 48000;
const post = async <T>(path: string, body: object): Promise<T> =>
  (await (await fetch(base + path, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) })).json()) as T; // prettier-ignore

/** Files of a kit repeated to a length; more mics than the kit has are copies at another level. */
function files(mics: number, minutes: number): { name: string; data: Uint8Array }[] {
  const { kit, song } = variedKit(401, 3);
  const played = simulate(kit, song, rate, 401).mics;
  return Array.from({ length: mics }, (_, i) => {
    const { spec, channels } = played[i % played.length]!;
    const copy = Math.floor(i / played.length);
    const gain = 1 - 0.13 * copy;
    const long = channels.map((x) => {
      const y = new Float32Array(minutes * 60 * rate);
      for (let at = 0; at < y.length; at += x.length)
        y.set(x.subarray(0, Math.min(x.length, y.length - at)), at);
      return copy ? y.map((v) => gain * v) : y;
    });
    const name = copy ? spec.file.replace(/\.wav$/i, ` ${copy + 1}.wav`) : spec.file;
    return { name, data: writeWav({ sampleRate: rate, channels: long }, "wav24") };
  });
}

/** Bytes of one part, as the interface sends them. */
const partBytes = 8 * 1024 * 1024;

async function upload(song: string, list: { name: string; data: Uint8Array }[]): Promise<void> {
  const rest = [...list];
  const one = async () => {
    for (let f = rest.shift(); f; f = rest.shift()) {
      const bytes = f.data.length;
      const { id } = await post<{ id: string }>(`/api/songs/${song}/uploads`, { name: f.name, bytes, mark: "bench" }); // prettier-ignore
      for (let at = 0; at < bytes; at += partBytes) {
        const body = new Blob([f.data.subarray(at, at + partBytes) as Uint8Array<ArrayBuffer>]);
        const response = await fetch(`${base}/api/uploads/${id}?from=${at}`, { method: "PUT", body });
        if (!response.ok) throw new Error(await response.text());
      }
      await post(`/api/uploads/${id}`, {});
    }
  };
  await Promise.all([one(), one(), one()]); // as many at a time as the interface sends
}

async function run(song: string, kind: "analyse" | "export"): Promise<void> {
  let task = await post<{ id: string; state: string }>(`/api/songs/${song}/tasks`, { kind, options: kind === "export" ? { format: "wav24" } : {} }); // prettier-ignore
  while (task.state === "waiting" || task.state === "running") {
    await new Promise((resolve) => setTimeout(resolve, 100));
    task = (await (await fetch(`${base}/api/tasks/${task.id}`)).json()) as typeof task;
  }
  if (task.state !== "done") throw new Error(`${kind} is ${task.state}`);
}

interface Hook {
  capture(frames: number): Promise<{ position: number }> | undefined;
  seek(frame: number): void;
  onState(watch: (s: { starved: number }) => void): () => void;
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

async function listen(song: string, label: string, minutes: number): Promise<void> {
  const browser = await chromium.launch({
    executablePath: process.env["CHROMIUM"] ?? "/usr/bin/chromium",
    args: ["--no-sandbox", "--disable-gpu", "--autoplay-policy=no-user-gesture-required"],
  });
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
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
  await page.waitForTimeout(10000);
  const starved = await page.evaluate(() => new Promise<number>((resolve) => { const stop = (window as unknown as { jubo: Hook }).jubo.onState((s) => { stop(); resolve(s.starved); }); })); // prettier-ignore
  note({ name: `${label}: drop-outs`, value: starved, unit: "", budget: "0" });
  await browser.close();
}

async function measure(mics: number, minutes: number): Promise<void> {
  const label = `${mics} mics × ${minutes} min`;
  const list = files(mics, minutes);
  const megabytes = list.reduce((n, f) => n + f.data.length, 0) / 1e6;
  const { id } = await post<{ id: string }>("/api/songs", { title: label });
  const importing = await secondsOf(() => upload(id, list));
  note({ name: `${label}: import of ${megabytes.toFixed(0)} MB`, value: importing, unit: "s" });
  note({ name: "  over loopback", value: megabytes / importing, unit: "MB/s", budget: "100" });
  list.length = 0;
  const analysing = await secondsOf(() => run(id, "analyse"));
  note({ name: `${label}: analysis`, value: analysing, unit: "s", ...(mics === 24 && minutes === 4 ? { budget: "20" } : {}) }); // prettier-ignore
  note({ name: `${label}: render of the kit`, value: await secondsOf(() => run(id, "export")), unit: "s" });
  await listen(id, label, minutes);
  await fetch(`${base}/api/songs/${id}`, { method: "DELETE" });
}

await measure(12, 1);
await measure(12, 4);
await measure(24, 4);
save("bench-application");

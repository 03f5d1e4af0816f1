import { expect, test } from "@playwright/test";
import { simulate } from "../demo/simulate";
import { variedKit } from "../demo/varied";
import type { Operation } from "../src/core/song/operations";
import type { Song } from "../src/core/song/song";
import { fullGraph } from "../tools/bench/material";
import type { Hook, State } from "./hook";
import { deliverSong, readSong } from "./songApi";

const seconds = Number(process.env["JUBO_SOAK_SECONDS"] ?? 0);
const mics = 24;
const rate = 48000;

/** Every part of the song that is to be possible, put on the mics that were brought in. */
function operations(song: Song): Operation[] {
  // The made song counts its mics from 0, the application from 1.
  const text = JSON.stringify(fullGraph(mics)).replace(/"m(\d+)(?=[."])/g, (_, n) => `"m${Number(n) + 1}`);
  const wanted = JSON.parse(text) as Song;
  return [
    { op: "addBuses", buses: wanted.buses.filter((b) => b.id !== "kit") },
    ...wanted.mics.flatMap((m): Operation[] => [
      { op: "setMic", mic: m.id, values: { output: m.output } },
      { op: "setSends", owner: m.id, sends: m.sends },
      { op: "setChain", owner: m.id, chain: m.chain },
    ]),
    { op: "setChain", owner: "kit", chain: wanted.buses.find((b) => b.id === "kit")!.chain },
    { op: "removeBuses", buses: song.buses.map((b) => b.id).filter((id) => id !== "kit") },
  ];
}

test("24 mics, 16 buses and the kit, all different and on with Cancel, play on without a drop-out", async ({
  page,
  request,
}) => {
  test.skip(seconds === 0, "long: JUBO_SOAK_SECONDS=600 runs it");
  test.setTimeout(400_000 + 1000 * seconds);
  const { kit, song: played } = variedKit(431, 12);
  const twice = [1, 2].flatMap((seed) =>
    simulate(kit, played, rate, seed).mics.map((m) => ({
      ...m,
      spec: { ...m.spec, file: m.spec.file.replace(/(?=\.\w+$)/, ` ${seed}`) },
    })),
  );
  expect(twice.length).toBeGreaterThanOrEqual(mics);
  const id = await deliverSong(request, "Soak", twice.slice(0, mics), rate);
  const { song } = await readSong(request, id);
  const { version } = (await (await request.get(`/api/songs/${id}`)).json()) as { version: number };
  const changed = await request.post(`/api/songs/${id}/operations`, {
    data: { version, label: "soak", operation: { op: "several", operations: operations(song) } },
  });
  expect(await changed.text()).not.toContain("message");
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("l");
  await page.keyboard.press(" ");
  const counts = await page.evaluate(
    (duration) =>
      new Promise<number[]>((resolve) => {
        const { jubo } = window as unknown as { jubo: Hook };
        const all: number[] = [];
        let last: State | null = null;
        const stop = jubo.onState((s) => (last = s));
        const timer = setInterval(() => {
          all.push(last?.playing ? last.starved : -1);
          if (all.length < duration / 10) return;
          clearInterval(timer);
          stop();
          resolve(all);
        }, 10_000);
      }),
    seconds,
  );
  process.stdout.write(`    drop-outs after every 10 s (-1: stands still): ${counts.join(" ")}\n`);
  // What happens while the first blocks are compiled and fetched is told above; from then on there is none.
  expect(counts.filter((n) => n >= 0).length).toBeGreaterThan(counts.length / 2);
  expect(counts.at(-1)! - counts[0]!).toBe(0);
});

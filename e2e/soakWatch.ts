import { residentMemory } from "../tools/bench/processes";
import type { Hook, State } from "./hook";
import type { QuietPage } from "./quietPage";

/** Drop-outs since the last look. */
export interface Heard {
  /** In the first second behind a jump, where there may be some. */
  readonly behindJumps: number;
  /** Everywhere else. */
  readonly within: number;
  readonly jumps: number;
  /** Whether it plays now. */
  readonly plays: boolean;
  /** Share of the looks at which the song was playing, 0 to 1. */
  readonly playing: number;
  /** What was done before each of those that count, and how many seconds before. */
  readonly behind: readonly string[];
}

/** Begins to count drop-outs in the page, apart by whether a jump was less than a second ago; resolves at its first look. */
export const countDropOuts = (page: QuietPage): Promise<void> =>
  page.evaluate(() => {
    const { jubo } = window as unknown as { jubo: Hook };
    const heard = {
      behindJumps: 0,
      within: 0,
      jumps: 0,
      looks: 0,
      playing: 0,
      plays: false,
      behind: [] as string[],
    };
    const act = { name: "play", at: performance.now() };
    let last: State | null = null;
    let jumped = performance.now();
    Object.assign(window, { soak: heard, soakAct: act });
    return new Promise<void>((looked) => {
      jubo.onState((s) => {
        if (last && s.generation !== last.generation) {
          heard.jumps++;
          jumped = performance.now();
        }
        const more = last ? s.starved - last.starved : 0;
        const within = performance.now() - jumped >= 1000;
        if (more > 0) heard[within ? "within" : "behindJumps"] += more;
        if (more > 0 && within)
          heard.behind.push(`${act.name} ${((performance.now() - act.at) / 1000).toFixed(1)}`);
        heard.looks++;
        heard.playing += s.playing ? 1 : 0;
        heard.plays = s.playing;
        last = s;
        looked();
      });
    });
  });

/** Tells the count what is done now. */
export const tellAct = (page: QuietPage, name: string): Promise<void> =>
  page.evaluate((name) => {
    const { soakAct } = window as unknown as { soakAct: { name: string; at: number } };
    Object.assign(soakAct, { name, at: performance.now() });
  }, name);

/** Whether the song plays; it ends unless it is looped. */
export const isPlaying = (page: QuietPage): Promise<boolean> =>
  page.evaluate(() => (window as unknown as { soak: Heard }).soak.plays);

/** What was counted since the last look. */
export const takeHeard = (page: QuietPage): Promise<Heard> =>
  page.evaluate(() => {
    const { soak } = window as unknown as { soak: Heard & { looks: number } };
    const heard = { ...soak, playing: soak.playing / Math.max(1, soak.looks) };
    Object.assign(soak, { behindJumps: 0, within: 0, jumps: 0, looks: 0, playing: 0, behind: [] });
    return heard;
  });

/** What the page's scripts hold behind a collection, and what the processes hold, MB; and how many nodes the page has. */
export async function heldNow(page: QuietPage): Promise<Readonly<Record<string, number>>> {
  await page.send("HeapProfiler.collectGarbage");
  const { usedSize } = await page.send<{ usedSize: number }>("Runtime.getHeapUsage");
  const { nodes } = await page.send<{ nodes: number }>("Memory.getDOMCounters");
  return { heap: usedSize / 1e6, nodes, ...residentMemory() };
}

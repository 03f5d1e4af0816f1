import { afterAll, afterEach, beforeEach, describe, expect, jest, test } from "@jest/globals";
import { plainListening } from "../core/listen/listening";
import { applyOperation, type Operation } from "../core/song/operations";
import { testSong } from "../core/testing/songs";
import type { EngineMessage, FromEngine, FromStream, StreamMessage } from "./messages";
import { MeterBoard } from "./meterBoard";
import { Player } from "./player";

// The page's audio behind fakes that hand over what they are told: a context whose clock a test moves, a worklet and a worker.
// The real ones are driven by Playwright (e2e/listening.spec.ts).
class FakeContext {
  static made: FakeContext[] = [];
  static fails = 0;
  state: "running" | "suspended" | "closed" = "suspended";
  currentTime = 0;
  onstatechange: (() => void) | null = null;
  readonly destination = {};
  resumed = 0;
  readonly audioWorklet = {
    addModule: async () => {
      if (FakeContext.fails-- > 0) throw new Error("no device");
    },
  };
  constructor(readonly options: { sampleRate: number }) {
    FakeContext.fails = Math.max(0, FakeContext.fails);
    FakeContext.made.push(this);
  }
  async resume(): Promise<void> {
    this.resumed++;
    this.state = "running";
  }
  async close(): Promise<void> {
    this.state = "closed";
  }
}
class FakeNode {
  static made: FakeNode[] = [];
  readonly told: EngineMessage[] = [];
  connected = false;
  onprocessorerror: (() => void) | null = null;
  readonly port = {
    onmessage: null as ((event: { data: FromEngine }) => void) | null,
    postMessage: (message: EngineMessage) => void this.told.push(message),
  };
  constructor() {
    FakeNode.made.push(this);
  }
  connect(): void {
    this.connected = true;
  }
  disconnect(): void {
    this.connected = false;
  }
  says(data: FromEngine): void {
    this.port.onmessage!({ data });
  }
}
class FakeWorker {
  static made: FakeWorker[] = [];
  readonly told: StreamMessage[] = [];
  ended = false;
  onmessage: ((event: { data: FromStream }) => void) | null = null;
  constructor() {
    FakeWorker.made.push(this);
  }
  postMessage(message: StreamMessage): void {
    this.told.push(message);
  }
  terminate(): void {
    this.ended = true;
  }
}
const page = globalThis as unknown as Record<string, unknown>;
const before = { ...page };
let drawn: (() => void) | null = null;
beforeEach(() => {
  jest.useFakeTimers();
  FakeContext.made = [];
  FakeContext.fails = 0;
  FakeNode.made = [];
  FakeWorker.made = [];
  Object.assign(page, {
    crossOriginIsolated: true,
    AudioContext: FakeContext,
    AudioWorkletNode: FakeNode,
    Worker: FakeWorker,
    requestAnimationFrame: (draw: () => void) => ((drawn = draw), 1),
    cancelAnimationFrame: () => (drawn = null),
  });
});
afterAll(() => {
  for (const name of [
    "crossOriginIsolated",
    "AudioContext",
    "AudioWorkletNode",
    "Worker",
    "requestAnimationFrame",
    "cancelAnimationFrame",
  ])
    page[name] = before[name];
});

const { song } = testSong(48_000);
let players: Player[] = [];
afterEach(() => {
  for (const p of players) p.close();
  players = [];
  jest.useRealTimers();
});
function open(): { player: Player; troubles: (string | null)[]; failed: string[] } {
  const troubles: (string | null)[] = [];
  const failed: string[] = [];
  const player = new Player(song, {
    state: () => {},
    trouble: (message) => void troubles.push(message),
    failed: (ids) => void failed.push(...ids),
  });
  players.push(player);
  return { player, troubles, failed };
}
const node = () => FakeNode.made.at(-1)!;
const stream = () => FakeWorker.made.at(-1)!;
const context = () => FakeContext.made.at(-1)!;
const kinds = () => node().told.map((m) => m.type);
const seeks = () => stream().told.filter((m) => m.type === "seek");
/** What the worklet writes, as it plays at a frame. */
function at(position: number): void {
  const first = node().told.find((m) => m.type === "open") as Extract<EngineMessage, { type: "open" }>;
  const board = new MeterBoard(first.board);
  const last = node().told.findLast((m) => m.type === "generation") as { generation: number };
  board.put("position", position);
  board.put("generation", last.generation);
  jest.advanceTimersByTime(30);
  drawn?.();
}

describe("playback in the page", () => {
  test("is set up by the first play, at the song's rate, with all that was asked for before", async () => {
    const { player } = open();
    player.watch(["kick.gate"]);
    player.setHalf(true);
    player.setClick([0, 24_000], [true, false]);
    player.seek(12_000);
    expect(FakeContext.made).toHaveLength(0);
    await player.play();
    expect(context().options.sampleRate).toBe(48_000);
    expect(node().connected).toBe(true);
    expect(kinds().slice(0, 2)).toEqual(["open", "generation"]);
    expect(node().told).toContainEqual({ type: "watch", ids: ["kick.gate"] });
    expect(node().told).toContainEqual({ type: "half", on: true });
    expect(node().told).toContainEqual({ type: "click", beats: [0, 24_000], accents: [true, false] });
    expect(node().told.at(-1)).toEqual({ type: "play", on: true, countIn: null });
    expect(seeks().at(-1)).toMatchObject({ position: 12_000, stretches: null, again: false });
  });
  test("two plays at once set up one output", async () => {
    const { player } = open();
    await Promise.all([player.play(), player.play()]);
    expect(FakeContext.made).toHaveLength(1);
  });
  test("stopped before it was set up, it does not begin", async () => {
    const { player } = open();
    const coming = player.play();
    player.stop();
    await coming;
    expect(kinds()).not.toContain("play");
  });
  test("an output that cannot be had is told in words, and can be tried again", async () => {
    FakeContext.fails = 1;
    const { player, troubles } = open();
    await expect(player.play()).rejects.toThrow("no device");
    expect(troubles[0]).toMatch(/could not be started: no device\. The song is safe; try again\./);
    await player.play();
    expect(kinds()).toContain("play");
  });
  test("a page that cannot share memory says so", async () => {
    page["crossOriginIsolated"] = false;
    const { player, troubles } = open();
    await expect(player.play()).rejects.toThrow("not isolated");
    expect(troubles[0]).toContain("memory cannot be shared");
  });
});

describe("where it plays", () => {
  test("jumps begin a new generation, within the song, in stream and engine alike", async () => {
    const { player } = open();
    await player.play();
    for (const [asked, wanted] of [
      [-50, 0],
      [100.4, 100],
      [1e9, song.frames - 1],
    ] as const) {
      player.seek(asked);
      const { generation } = node().told.at(-1) as { generation: number };
      expect(seeks().at(-1)).toMatchObject({ position: wanted, generation });
    }
  });
  test("a loop is gone into where the playhead is outside, and stays where it is inside", async () => {
    const { player } = open();
    await player.play();
    player.seek(5000);
    player.setLoop({ from: 10_000, to: 20_000 });
    expect(seeks().at(-1)).toMatchObject({
      position: 10_000,
      again: true,
      stretches: [{ from: 10_000, to: 20_000 }],
    });
    at(15_000);
    player.setLoop({ from: 12_000, to: 20_000 });
    expect(seeks().at(-1)).toMatchObject({ position: 15_000 });
    player.setLoop(null);
    expect(seeks().at(-1)).toMatchObject({ position: 15_000, again: false, stretches: null });
  });
  test("it stops at the end of the song, and begins anew there", async () => {
    const { player } = open();
    await player.play();
    at(song.frames);
    expect(player.playing).toBe(false);
    expect(node().told.at(-1)).toEqual({ type: "play", on: false });
    player.seek(song.frames);
    await player.play();
    expect(seeks().at(-1)).toMatchObject({ position: 0 });
  });
  test("behind a loop it plays on to the end of the song, stops there, and begins anew with the loop", async () => {
    const { player } = open();
    await player.play();
    player.setLoop({ from: 10_000, to: 20_000 });
    player.seek(40_000);
    at(song.frames - 1);
    expect(player.playing).toBe(true);
    at(song.frames + 128);
    expect(player.playing).toBe(false);
    await player.play();
    expect(player.playing).toBe(true);
    expect(seeks().at(-1)).toMatchObject({ position: 10_000 });
  });
  test("a loop up to the end of the song goes round, though its last block reaches beyond", async () => {
    const { player } = open();
    await player.play();
    player.setLoop({ from: song.frames - 1000, to: song.frames });
    at(song.frames + 60);
    expect(player.playing).toBe(true);
  });
  test("stretches end where the stream says that the last one ends", async () => {
    const { player } = open();
    player.setStretches([
      { from: 100, to: 200 },
      { from: 900, to: 1000 },
    ]);
    await player.play();
    const { generation } = seeks().at(-1) as { generation: number };
    stream().onmessage!({ data: { type: "ending", generation: generation - 1, frame: 150 } });
    at(160);
    expect(player.playing).toBe(true);
    stream().onmessage!({ data: { type: "ending", generation, frame: 1000 } });
    at(999);
    expect(player.playing).toBe(true);
    at(1000);
    expect(player.playing).toBe(false);
  });
  test("what the worklet wrote before a jump is not read", async () => {
    const { player } = open();
    await player.play();
    at(700);
    player.seek(30_000);
    const first = node().told[0] as Extract<EngineMessage, { type: "open" }>;
    const board = new MeterBoard(first.board);
    board.put("position", 800);
    drawn!();
    player.setLoop(null);
    expect(seeks().at(-1)).toMatchObject({ position: 30_000 });
  });
});

describe("what changes while it plays", () => {
  const level: Operation = { op: "setMic", mic: "kick", values: { level: -3 } };
  test("goes to the engine as the operation it is; cuts that moved are read anew", async () => {
    const { player } = open();
    await player.play();
    const count = seeks().length;
    player.change(applyOperation(song, level).song, level);
    expect(node().told.at(-1)).toEqual({ type: "operation", operation: level });
    expect(seeks()).toHaveLength(count);
    const cut: Operation = {
      op: "setSong",
      values: { edits: [{ at: 900, shift: 40, fade: 10, likeness: 1, jumpDb: null }] },
    };
    const moved = applyOperation(song, cut).song;
    player.change(moved, cut);
    expect(seeks()).toHaveLength(count + 1);
    player.change(structuredClone(moved), null); // as the server gives it back, after an undo for instance
    expect(seeks()).toHaveLength(count + 1);
  });
  test("a comparison of timings needs a stream with both; another comparison none", async () => {
    const { player } = open();
    await player.play();
    const edits = [{ at: 900, shift: 40, fade: 10, likeness: 1, jumpDb: null }];
    player.change({ ...song, edits }, null);
    const count = seeks().length;
    player.listen({ ...plainListening, comparison: { kind: "processors", ids: ["kick.gate"] } });
    expect(seeks()).toHaveLength(count);
    player.listen({ ...plainListening, comparison: { kind: "timing" } });
    expect(seeks()).toHaveLength(count + 1);
    expect((seeks().at(-1) as { otherReadings: unknown }).otherReadings).not.toBeNull();
  });
  test("an impulse response is asked for once, and given to an output that is set up later", async () => {
    const { player } = open();
    expect([player.wantsResponse("ir"), player.wantsResponse("ir")]).toEqual([true, false]);
    player.forgetResponse("ir");
    expect(player.wantsResponse("ir")).toBe(true);
    const response = {} as never;
    player.setResponse("ir", response);
    await player.play();
    expect(node().told).toContainEqual({ type: "response", mic: "ir", response });
  });
});

describe("when something stands in the way", () => {
  test("an output whose clock stands still is set up anew where it was, and what was to be captured is asked anew", async () => {
    const { player, troubles } = open();
    await player.play();
    at(20_000);
    const captured = player.capture(512);
    await jest.advanceTimersByTimeAsync(2500);
    expect(FakeContext.made).toHaveLength(2);
    expect(FakeContext.made[0]!.state).toBe("closed");
    expect(FakeWorker.made[0]!.ended).toBe(true);
    expect(troubles[0]).toContain("set up anew where it was");
    expect(seeks().at(-1)).toMatchObject({ position: 20_000 });
    expect(kinds().filter((k) => k === "capture")).toHaveLength(1);
    node().says({ type: "captured", position: 20_000, channels: [] });
    expect((await captured).position).toBe(20_000);
    for (let n = 0; n < 40; n++) {
      context().currentTime += 0.25;
      await jest.advanceTimersByTimeAsync(250);
    }
    expect(FakeContext.made).toHaveLength(2);
    expect(troubles.at(-1)).toBeNull();
  });
  test("a clock that goes on, or audio that is waited for, is no lost output", async () => {
    const { player } = open();
    await player.play();
    stream().onmessage!({ data: { type: "waiting", message: "the server is slow" } });
    await jest.advanceTimersByTimeAsync(10_000);
    expect(FakeContext.made).toHaveLength(1);
    stream().onmessage!({ data: { type: "flowing" } });
  });
  test("the system takes the output away and gives it back", async () => {
    const { player, troubles } = open();
    await player.play();
    context().state = "suspended";
    context().onstatechange!();
    expect(troubles.at(-1)).toContain("suspended the audio output");
    expect(context().resumed).toBe(2);
    context().onstatechange!();
    expect(troubles.at(-1)).toBeNull();
  });
  test("what the engine could not take, and processors that failed, are told", async () => {
    const { player, troubles, failed } = open();
    await player.play();
    node().says({ type: "failed", ids: ["kick.gate"] });
    node().says({ type: "broken", message: "memory is used up" });
    node().onprocessorerror!();
    expect(failed).toEqual(["kick.gate"]);
    expect(troubles[0]).toContain("could not go on: memory is used up");
    expect(troubles[1]).toContain("reload the page to play on");
  });
  test("closed, it lets everything go and draws no more", async () => {
    const { player } = open();
    await player.play();
    player.close();
    expect([context().state, stream().ended, node().connected, drawn]).toEqual(["closed", true, false, null]);
    await jest.advanceTimersByTimeAsync(5000);
    expect(FakeContext.made).toHaveLength(1);
  });
});

import { afterAll, beforeEach, describe, expect, test } from "@jest/globals";
import type { OpenSong } from "../../contract";
import { applyOperation, type Operation } from "../../core/song/operations";
import type { Song } from "../../core/song/song";
import { testSong } from "../../core/testing/songs";
import { playback } from "./playback";
import { allSaved, useSong } from "./songStore";

// A server behind `fetch` that keeps one song as the real one does: a change needs the version before it, undo
// applies the stored inverse. A test may hold answers back, lose them, or change the song as another page would.
class FakeServer {
  song: Song = testSong().song;
  version = 1;
  readonly past: { label: string; inverse: Operation }[] = [];
  readonly asked: string[] = [];
  /** How many of the next requests never arrive. */
  away = 0;
  /** Says no to the changes that come. */
  refuses = false;
  private readonly held: (() => void)[] = [];
  holding = false;

  release(): void {
    this.holding = false;
    for (const go of this.held.splice(0)) go();
  }
  change(operation: Operation, label = "from elsewhere"): void {
    const { song, inverse } = applyOperation(this.song, operation);
    this.song = song;
    this.past.push({ label, inverse });
    this.version++;
  }
  private opened(): Omit<OpenSong, "song"> {
    const undo = this.past.at(-1)?.label ?? null;
    return { id: "s1", version: this.version, facts: null, undo, redo: null };
  }
  private answer(
    path: string,
    body: { version: number; label: string; operation: Operation },
  ): [number, object] {
    if (path.endsWith("/tasks")) return [200, { tasks: [] }];
    if (/\/songs\/s\d$/.test(path)) return [200, { ...this.opened(), song: this.song }];
    if (body.version !== this.version) return [409, { code: "stale", message: "Somebody else changed it." }];
    if (path.endsWith("/history")) {
      this.song = applyOperation(this.song, this.past.pop()!.inverse).song;
      this.version++;
      return [200, { ...this.opened(), song: this.song }];
    }
    if (this.refuses) return [400, { code: "invalid", message: "That level is not possible." }];
    this.change(body.operation, body.label);
    return [200, this.opened()];
  }
  readonly fetch = async (path: unknown, init?: RequestInit): Promise<Response> => {
    this.asked.push(`${init?.method ?? "GET"} ${String(path).replace(/^.*\/s1/, "")}`);
    if (this.away > 0) {
      this.away--;
      throw new TypeError("the network is gone");
    }
    const body: unknown = JSON.parse((init?.body as string | undefined) ?? "{}");
    if (this.holding) await new Promise<void>((go) => this.held.push(go));
    const [status, answer] = this.answer(String(path), body as never);
    return new Response(JSON.stringify(answer), { status });
  };
}

// What the player of the page asks of a browser to close.
Object.assign(globalThis, { navigator: {}, cancelAnimationFrame: () => {} });
const fetchBefore = globalThis.fetch;
let server: FakeServer;
const store = () => useSong.getState();
const level = (song: Song | null) => song?.buses.find((b) => b.id === "kit")?.level;
const setLevel = (value: number): Operation => ({ op: "setBus", bus: "kit", values: { level: value } });

beforeEach(async () => {
  server = new FakeServer();
  globalThis.fetch = server.fetch as typeof fetch;
  await store().open("s1");
});
afterAll(() => {
  playback.close();
  globalThis.fetch = fetchBefore;
});

describe("changes go to the server one after another", () => {
  test("each is seen at once, and each is sent with the version that the one before it made", async () => {
    server.holding = true;
    for (const v of [-1, -2, -3]) store().change("level", setLevel(v));
    expect(level(store().song)).toBe(-3);
    expect(store().unsaved).toBe(3);
    expect(level(server.song)).toBe(0);
    server.release();
    await allSaved();
    expect(level(server.song)).toBe(-3);
    expect(server.past).toHaveLength(3);
    expect(store().unsaved).toBe(0);
    expect(store().undo).toBe("level");
  });

  test("nothing is called saved while an undo is under way, and what is undone is what stood when it was asked", async () => {
    store().change("first", setLevel(-4));
    store().change("second", setLevel(-8));
    await allSaved();
    server.holding = true;
    const undone = store().history("undo");
    expect(store().unsaved).toBe(1);
    server.release();
    await undone;
    expect(store().unsaved).toBe(0);
    expect(level(store().song)).toBe(-4);
    expect(level(server.song)).toBe(-4);
  });

  test("an undo asked for right behind a change takes back that change", async () => {
    store().change("first", setLevel(-4));
    await store().history("undo");
    expect(level(server.song)).toBe(0);
    expect(level(store().song)).toBe(0);
    expect(server.asked.filter((a) => a.startsWith("POST"))).toEqual(["POST /operations", "POST /history"]);
  });

  test("a change made while an answer is awaited is not lost when the answer brings another song", async () => {
    store().change("first", setLevel(-4));
    await allSaved();
    server.holding = true;
    const undone = store().history("undo");
    store().change("name", { op: "setBus", bus: "room", values: { name: "Drums" } });
    server.release();
    await undone;
    await allSaved();
    for (const song of [server.song, store().song!]) {
      expect(level(song)).toBe(0);
      expect(song.buses.find((b) => b.id === "room")!.name).toBe("Drums");
    }
  });
});

describe("another song is opened", () => {
  test("an undo that waits behind a change is given up, what was begun is not counted for the new one", async () => {
    store().change("first", setLevel(-4));
    await allSaved();
    store().change("second", setLevel(-8));
    const undone = store().history("undo");
    expect(store().unsaved).toBe(2);
    const other = store().open("s2");
    await Promise.all([undone, other, allSaved()]);
    expect(store().id).toBe("s2");
    expect(store().unsaved).toBe(0);
    expect(server.asked.filter((a) => a.includes("history"))).toEqual([]);
  });
});

describe("when it goes wrong", () => {
  test("the server is away: said, tried again by itself, and nothing is lost", async () => {
    server.away = 1;
    store().change("level", setLevel(-5));
    await new Promise((resolve) => setTimeout(resolve, 100));
    expect(store().trouble).toMatch(/^Not saved yet/);
    expect(store().unsaved).toBe(1);
    await allSaved();
    expect(level(server.song)).toBe(-5);
    expect(store().trouble).toBeNull();
  });

  test("a refused change and what waits behind it are given up, and the page shows what the server has", async () => {
    server.refuses = true;
    store().change("first", setLevel(-3));
    store().change("behind it", setLevel(-6));
    expect(level(store().song)).toBe(-6);
    await allSaved();
    expect(store().trouble).toBe("That level is not possible.");
    expect(store().unsaved).toBe(0);
    expect(level(store().song)).toBe(0);
    expect(server.asked.filter((a) => a.startsWith("POST"))).toHaveLength(1);
  });

  test("somebody else's change: told as such, not written over, and taken by a reload", async () => {
    server.change(setLevel(-9));
    store().change("level", setLevel(-1));
    await allSaved();
    expect(store().stale).toBe(true);
    expect(level(server.song)).toBe(-9);
    await store().reload();
    expect(store().stale).toBe(false);
    expect(level(store().song)).toBe(-9);
  });
});

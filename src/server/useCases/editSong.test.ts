import { expect, test } from "@jest/globals";
import { randomSource } from "../../core/signal/random";
import type { Operation } from "../../core/song/operations";
import { pool } from "../db/pool";
import { deleteSong } from "../db/queries/song";
import { AppError } from "../errors";
import { rowsOf, smallSong, songOf, withDatabase } from "../testing/database";
import { editSong, openSong, stepHistory } from "./editSong";
import { listPast, songAt } from "./songHistory";

const level = (mic: string, db: number): Operation => ({ op: "setMic", mic, values: { level: db } });
const unknown = "00000000-0000-4000-8000-000000000000";
const codeOf = (error: unknown) => (error instanceof AppError ? error.code : String(error));

withDatabase("changes of a song in the database", () => {
  test("of twelve moves made on one version one is taken, the others are told so and change nothing", async () => {
    const id = await smallSong("twelve at once", 100);
    const { version } = await openSong(id);
    const tried = await Promise.allSettled(
      Array.from({ length: 12 }, (_, i) => editSong(id, version, `move ${i}`, level("m1", -1 - i))),
    );
    const taken = tried.filter((t) => t.status === "fulfilled");
    const refused = tried.flatMap((t) => (t.status === "rejected" ? [t.reason as unknown] : []));
    expect(taken).toHaveLength(1);
    expect(refused.map(codeOf)).toEqual(new Array(11).fill("stale"));
    expect(String(refused[0])).toContain(`it is at change ${version + 1}, this tab at ${version}`);
    const now = await openSong(id);
    expect(now.version).toBe(version + 1);
    expect(now.song.mics[0]!.level).toBe(
      taken[0]!.status === "fulfilled" ? taken[0]!.value.song.mics[0]!.level : NaN,
    );
  });

  test("moves on different songs do not wait for each other", async () => {
    const [a, b] = [await smallSong("side by side a", 110), await smallSong("side by side b", 112)];
    const client = await pool().connect();
    try {
      await client.query("begin");
      await client.query("select 1 from song where id = $1 for update", [a]);
      const { version } = await openSong(b);
      expect((await editSong(b, version, "free", level("m1", -2))).version).toBe(version + 1);
    } finally {
      await client.query("rollback");
      client.release();
    }
  });

  test.each([
    ["a mic that is not there", level("m99", -3), /m99/],
    ["a level beyond what faders have", level("m1", 400), /level.*24/],
    ["a level that is no number", level("m1", NaN), /level/],
    ["an unknown field", { op: "setMic", mic: "m1", values: { colour: "red" } }, /colour/],
    ["an unknown operation", { op: "setEverything" }, /setEverything/],
    ["a good move beside a bad one", { op: "several", operations: [level("m1", -6), level("m9", 0)] }, /m9/],
  ])("%s is refused with words, and nothing of it stays", async (_, operation, words) => {
    const id = await smallSong("refused", 120);
    const before = await openSong(id);
    const failed = await editSong(id, before.version, "bad", operation as Operation).catch((e: unknown) => e);
    expect(codeOf(failed)).toBe("invalid");
    expect((failed as Error).message).toMatch(words);
    expect((failed as Error).message).toContain("Nothing was changed.");
    expect(await openSong(id)).toEqual(before);
  });

  test("undo and redo go step by step, name what they would take back, and end with words", async () => {
    const id = await smallSong("steps", 130);
    let { version } = await openSong(id);
    const first = await editSong(id, version, "kick down", level("m1", -4));
    const second = await editSong(id, first.version, "snare down", level("m2", -5));
    expect([second.undo, second.redo]).toEqual(["snare down", null]);
    const back = await stepHistory(id, second.version, "undo");
    expect([back.undo, back.redo]).toEqual(["kick down", "snare down"]);
    expect(back.song.mics.map((m) => m.level)).toEqual([-4, 0]);
    const again = await stepHistory(id, back.version, "redo");
    expect(again.song).toEqual(second.song);
    const none = await stepHistory(id, again.version, "redo").catch((e: unknown) => e);
    expect((none as Error).message).toBe("There is nothing to redo.");
    ({ version } = again);
    expect(version).toBe(second.version + 2);
  });

  test("a new move drops what was undone", async () => {
    const id = await smallSong("dropped", 140);
    const { version } = await openSong(id);
    const down = await editSong(id, version, "down", level("m1", -4));
    const back = await stepHistory(id, down.version, "undo");
    const up = await editSong(id, back.version, "up", level("m1", 2));
    expect([up.undo, up.redo]).toEqual(["up", null]);
    expect(await rowsOf("song_operation", "song_id = $1 and label = 'down'", [id])).toBe(0);
  });

  test("forty moves at random: each state of the past comes back as it was, and undoing all gives the beginning", async () => {
    const id = await smallSong("forty", 150);
    const random = randomSource(7);
    let { version, song } = await openSong(id);
    const start = song;
    const states = [song];
    for (let n = 0; n < 40; n++) {
      const mic = `m${1 + Math.floor(2 * random())}`;
      const moves: Operation[] = [
        level(mic, Math.round(-30 * random())),
        { op: "setMic", mic, values: { muted: random() < 0.5 } },
        {
          op: "setProcessor",
          owner: mic,
          processor: `${mic}.trim`,
          on: random() < 0.5,
          params: { gain: Math.round(10 * random()) },
        },
        { op: "setSong", values: { title: `forty ${n}` } },
      ];
      ({ version, song } = await editSong(id, version, `move ${n}`, moves[Math.floor(4 * random())]!));
      states.push(song);
    }
    const past = await listPast(id);
    expect(past[0]!.before).toBe("move 39");
    for (const n of [0, 1, 17, 39]) expect(await songAt(id, past[0]!.position - 39 + n)).toEqual(states[n]);
    for (let n = 39; n >= 0; n--) {
      const back = await stepHistory(id, version, "undo");
      expect(back.song).toEqual(states[n]);
      version = back.version;
    }
    expect(await songOf(id)).toEqual(start);
    for (let n = 1; n <= 40; n++) ({ version, song } = await stepHistory(id, version, "redo"));
    expect(song).toEqual(states[40]);
  });

  test("what was never there or is gone is told, in every way of asking", async () => {
    const id = await smallSong("gone", 160);
    const { version } = await openSong(id);
    await expect(songAt(id, 5000)).rejects.toThrow(/there is no state after 5000/);
    expect(await deleteSong(pool(), id)).toBe(true);
    for (const song of [id, unknown])
      for (const ask of [
        () => openSong(song),
        () => editSong(song, version, "late", level("m1", -1)),
        () => stepHistory(song, version, "undo"),
        () => listPast(song),
        () => songAt(song, 0),
      ])
        expect(codeOf(await ask().catch((e: unknown) => e))).toBe("not_found");
    expect(await rowsOf("song_operation", "song_id = $1", [id])).toBe(0);
  });
});

import { expect, test } from "@jest/globals";
import { inTransaction, pool } from "../db/pool";
import {
  beatTask,
  cancelTask,
  claimTask,
  findTask,
  finishTask,
  holdTask,
  insertTask,
  listTasks,
  reviveTasks,
  type ClaimedTask,
} from "../db/queries/task";
import { deleteSong, lockSong } from "../db/queries/song";
import { createSong } from "../useCases/createSong";
import { changeLocked, openSong } from "../useCases/editSong";
import { smallSong, songOf, withDatabase } from "../testing/database";
import { Cancelled, Lost, noTask, Turn, type Job } from "./turn";
import { work } from "./worker";

/** A task of a song in the hands of a worker. */
async function claimed(song: string): Promise<ClaimedTask> {
  const task = await insertTask(pool(), song, "analyse", {});
  return (await claimTask(pool(), task.id))!;
}
/** The worker gave no sign of life for a minute, and that is seen; in one step, since a real worker looks after the same database. */
const fallSilent = (id: string): Promise<string[]> =>
  inTransaction(async (db) => {
    await db.query("update task set heartbeat_at = now() - interval '1 minute' where id = $1", [id]);
    return reviveTasks(db);
  });
/** The same task in the hands of the next worker. */
async function passedOn({ id }: ClaimedTask): Promise<ClaimedTask> {
  expect(await fallSilent(id)).toContain(id);
  return (await claimTask(pool(), id))!;
}
/** Writes something into a song, as every job does. */
const rename = (job: Job, song: string, title: string) =>
  job.commit(async (db) => {
    const row = (await lockSong(db, song))!;
    await changeLocked(db, row, title, { op: "setSong", values: { title } });
  });
/** Works with a turn, which beats until it is ended. */
async function taking<T>(task: ClaimedTask, what: (turn: Turn) => Promise<T>): Promise<T> {
  const turn = new Turn(task);
  try {
    return await what(turn);
  } finally {
    turn.end();
  }
}
/** Waits for what a sign of life brings about, however slow the machine is. */
async function until(what: () => Promise<boolean>): Promise<void> {
  for (let n = 0; n < 400 && !(await what()); n++) await new Promise((r) => setTimeout(r, 50));
  expect(await what()).toBe(true);
}
const stateOf = async (id: string) => (await findTask(pool(), id))!;

withDatabase("a worker's turn at a task", () => {
  test("of many workers that reach for a task one has it", async () => {
    const task = await insertTask(pool(), await createSong("reach"), "analyse", {});
    const had = await Promise.all(Array.from({ length: 10 }, () => claimTask(pool(), task.id)));
    expect(had.filter((t) => t !== null)).toHaveLength(1);
    expect(had.find((t) => t !== null)).toMatchObject({ id: task.id, turn: 1, state: "running" });
  });

  test("it tells what it does now, and whoever takes it over begins with nothing told", async () => {
    const task = await claimed(await smallSong("told", 420));
    expect(await beatTask(pool(), task, 0.4, "finishing Kick.wav, 3 of 24")).toBe(false);
    expect(await stateOf(task.id)).toMatchObject({ progress: 0.4, doing: "finishing Kick.wav, 3 of 24" });
    await pool().query("update task set state = 'waiting' where id = $1", [task.id]);
    expect(await claimTask(pool(), task.id)).toMatchObject({ progress: 0, doing: "" });
  });

  test("what was worked out and the end of the task are written together", async () => {
    const song = await smallSong("before", 400);
    const task = await claimed(song);
    await taking(task, async (turn) => {
      await rename(turn, song, "after");
      expect(turn.committed).toBe(true);
    });
    expect((await songOf(song)).title).toBe("after");
    expect(await stateOf(task.id)).toMatchObject({ state: "done", progress: 1, message: "" });
  });

  test("a worker whose task was given to another writes nothing, though it goes on later and comes first", async () => {
    const song = await smallSong("as it was", 410);
    const first = await claimed(song);
    const second = await passedOn(first);
    expect(second.turn).toBe(2);
    await taking(first, async (turn) => {
      await expect(rename(turn, song, "by the first")).rejects.toThrow(Lost);
      expect(turn.committed).toBe(false);
    });
    expect((await songOf(song)).title).toBe("as it was");
    expect((await stateOf(first.id)).state).toBe("running");
    await taking(second, (turn) => rename(turn, song, "by the second"));
    expect((await songOf(song)).title).toBe("by the second");
    expect((await openSong(song)).undo).toBe("by the second");
  });

  test("both at once: the song has one change of it", async () => {
    const song = await smallSong("once", 420);
    const { version } = await openSong(song);
    const first = await claimed(song);
    const second = await passedOn(first);
    const ended = await Promise.allSettled([
      taking(first, (turn) => rename(turn, song, "first")),
      taking(second, (turn) => rename(turn, song, "second")),
    ]);
    expect(ended.map((e) => e.status)).toEqual(["rejected", "fulfilled"]);
    const now = await openSong(song);
    expect([now.version, now.song.title]).toEqual([version + 1, "second"]);
  });

  test("one that was lost is told to stop at its next sign of life, and cannot end what is another's", async () => {
    const song = await createSong("late end");
    const first = await claimed(song);
    const second = await passedOn(first);
    expect(await beatTask(pool(), first, 0.9)).toBe(true);
    await finishTask(pool(), first, "failed", "too late", null);
    expect(await stateOf(first.id)).toMatchObject({ state: "running", progress: 0, message: "" });
    expect(await beatTask(pool(), second, 0.4)).toBe(false);
    expect((await stateOf(first.id)).progress).toBeCloseTo(0.4, 9);
  });

  test("stopped just before it would write: nothing is written, and that is what its owner is told", async () => {
    const song = await smallSong("kept", 430);
    const task = await claimed(song);
    expect(await cancelTask(pool(), task.id)).toBe(true);
    await taking(task, (turn) => expect(rename(turn, song, "too late")).rejects.toThrow(Cancelled));
    expect((await songOf(song)).title).toBe("kept");
  });

  test("stopped just behind it: done, and nobody is told otherwise", async () => {
    const song = await smallSong("kept", 440);
    const task = await claimed(song);
    await taking(task, async (turn) => {
      await rename(turn, song, "written");
      expect(await cancelTask(pool(), task.id)).toBe(false);
      await finishTask(pool(), task, "cancelled", "Stopped. Nothing was changed.", null);
    });
    expect(await stateOf(task.id)).toMatchObject({ state: "done", message: "" });
  });

  test("what fails while it is written leaves neither a change nor an ended task", async () => {
    const song = await smallSong("whole", 450);
    const task = await claimed(song);
    await taking(task, async (turn) => {
      const failing = turn.commit(async (db) => {
        const row = (await lockSong(db, song))!;
        await changeLocked(db, row, "half", { op: "setSong", values: { title: "half" } });
        throw new Error("the disk is full");
      });
      await expect(failing).rejects.toThrow("the disk is full");
    });
    expect((await songOf(song)).title).toBe("whole");
    expect((await stateOf(task.id)).state).toBe("running");
  });

  test("it gives signs of life while it works, also while much is written", async () => {
    const song = await smallSong("beats", 460);
    const task = await claimed(song);
    const beat = async () =>
      (
        await pool().query<{ at: Date }>("select heartbeat_at as at from task where id = $1", [task.id])
      ).rows[0]!.at.getTime();
    await taking(task, async (turn) => {
      turn.report(0.25);
      const later = async (than: number) => until(async () => (await beat()) > than);
      await later(await beat());
      expect((await stateOf(task.id)).progress).toBeCloseTo(0.25, 9);
      await turn.commit(async () => {
        await later(await beat());
      });
    });
  });

  test("its owner's wish ends it at its next report", async () => {
    const task = await claimed(await createSong("wish"));
    await taking(task, async (turn) => {
      turn.report(0.1);
      await cancelTask(pool(), task.id);
      const stopped = () => {
        try {
          turn.report(0.2);
          return false;
        } catch (error) {
          expect(error).toBeInstanceOf(Cancelled);
          return true;
        }
      };
      await until(async () => stopped());
    });
  });

  test("a task that was broken off three times is given up with words", async () => {
    const task = await claimed(await createSong("three times"));
    let held = task;
    for (let n = 2; n <= 3; n++) held = await passedOn(held);
    expect(held.turn).toBe(3);
    expect(await fallSilent(task.id)).not.toContain(task.id);
    expect(await stateOf(task.id)).toMatchObject({
      state: "failed",
      message: "The work was broken off three times.",
    });
    expect(await claimTask(pool(), task.id)).toBeNull();
  });

  test("one that waits is stopped at once; one that is done or gone is nobody's to stop", async () => {
    const song = await createSong("waiting");
    const waiting = await insertTask(pool(), song, "export", {});
    expect(await cancelTask(pool(), waiting.id)).toBe(true);
    expect(await stateOf(waiting.id)).toMatchObject({
      state: "cancelled",
      message: "Stopped. Nothing was changed.",
    });
    expect(await claimTask(pool(), waiting.id)).toBeNull();
    expect(await cancelTask(pool(), waiting.id)).toBe(false);
    const running = await claimed(song);
    expect(await holdTask(pool(), running)).toBe("go on");
    await deleteSong(pool(), song);
    expect(await holdTask(pool(), running)).toBe("lost");
    expect(await beatTask(pool(), running, 0.5)).toBe(true);
    expect(await listTasks(pool(), song)).toEqual([]);
  });

  test("a job that is no task writes all or nothing, too", async () => {
    const song = await smallSong("plain", 470);
    noTask.report(0.5);
    await rename(noTask, song, "plainly");
    expect((await songOf(song)).title).toBe("plainly");
  });
});

withDatabase("work on a task", () => {
  test.each([
    ["analyse", {}, /nothing to analyse/],
    ["export", {}, /nothing to export/],
    ["export", { format: "mp9" }, /Unknown format mp9/],
    ["clock", { mics: ["m1"] }, /No clock of these mics/],
    ["tighten", { label: "x", version: 9999, values: {} }, /changed meanwhile/],
  ] as const)(
    "%s %j of an empty song fails with words that its owner can act on",
    async (kind, options, words) => {
      const song = await createSong("empty");
      const task = await insertTask(pool(), song, kind, options);
      await work(task.id);
      const ended = await stateOf(task.id);
      expect(ended.state).toBe("failed");
      expect(ended.message).toMatch(words);
      expect((await openSong(song)).undo).toBeNull();
    },
  );

  test("an export of a small song is done, its files lie in the store, and doing it again is left to nobody", async () => {
    const song = await smallSong("exported", 480);
    const task = await insertTask(pool(), song, "export", { format: "wav16", stems: true });
    await Promise.all([work(task.id), work(task.id)]);
    const ended = await stateOf(task.id);
    expect(ended).toMatchObject({ state: "done", progress: 1 });
    const { files } = ended.result as unknown as {
      files: { id: string; name: string; byteLength: number }[];
    };
    expect(files.map((f) => f.name).sort()).toEqual([
      "kit.wav",
      "report.html",
      "stem Kick in.wav",
      "stem Snare top.wav",
    ]);
    const { rows } = await pool().query<{ n: string }>(
      "select count(*) as n from file where id = any($1::uuid[])",
      [files.map((f) => f.id)],
    );
    expect(Number(rows[0]!.n)).toBe(4);
    await work(task.id);
    expect(await stateOf(task.id)).toEqual(ended);
  });
});

import type { Task } from "../../../contract";
import { api, ApiError } from "../api";
import { pause, type Saving } from "./saving";
import type { GetSong, SetSong, SongActions } from "./songState";

/** How often long work is asked how far it is, ms. */
const askedEvery = 300;

export const isUnderWay = ({ state }: Task): boolean => state === "waiting" || state === "running";

/** Shows long work until it has ended, and takes what it has made of the song. */
export async function follow(task: Task, set: SetSong, get: GetSong, saving: Saving): Promise<void> {
  let now = task;
  const { id } = get();
  set({ task: now });
  while (isUnderWay(now)) {
    await pause(askedEvery);
    try {
      now = await api.readTask(task.id);
    } catch (error) {
      if (error instanceof ApiError && error.code === "offline") continue;
      return saving.fail(error);
    }
    if (get().id !== id) return;
    // Another task may be the one that is shown by now.
    if (get().task?.id === task.id) set({ task: now });
  }
  // What Tighten shows before its cuts are planned is taken back when they are not.
  if (now.kind === "tighten" || (now.kind !== "export" && now.state === "done"))
    await api.openSong(id).then(saving.take, saving.fail);
  if (now.state === "failed") set({ trouble: now.message });
}

/** Long work on the song. */
export const taskActions = (
  set: SetSong,
  get: GetSong,
  saving: Saving,
): Pick<SongActions, "run" | "stopTask"> => ({
  async run(kind, options) {
    const start = async (more: object = {}): Promise<void> => {
      try {
        await follow(await api.startTask(get().id, kind, { ...options, ...more }), set, get, saving);
      } catch (error) {
        saving.fail(error);
      }
    };
    // What is planned from the song as it stands here must find it so; other work takes it as it is then.
    if (kind === "tighten") return saving.inLine(() => start({ version: saving.version }));
    await saving.done;
    return start();
  },
  async stopTask() {
    const { task } = get();
    if (task) await api.stopTask(task.id).catch(saving.fail);
  },
});

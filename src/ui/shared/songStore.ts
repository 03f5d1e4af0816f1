import { create } from "zustand";
import { api } from "./api";
import { choiceActions } from "./song/choices";
import { changeActions, Saving } from "./song/saving";
import { noSong, type SongState } from "./song/songState";
import { follow, isUnderWay, taskActions } from "./song/tasks";

export type { SongState } from "./song/songState";

let saving: Saving;

/** The song that is open in this page, and all that changes it. */
export const useSong = create<SongState>()((set, get) => {
  saving = new Saving(set, get);
  return {
    ...noSong,
    ...changeActions(set, get, saving),
    ...choiceActions(set, get),
    ...taskActions(set, get, saving),
    async open(id) {
      const { facts, measured, analysed, undo, redo, stale } = get();
      set({ ...noSong, facts, measured, analysed, undo, redo, stale, id });
      saving.forget();
      try {
        const opened = await api.openSong(id);
        if (get().id !== id) return;
        saving.take(opened);
        const running = (await api.listTasks(id)).find(isUnderWay);
        if (running) void follow(running, set, get, saving);
      } catch (error) {
        saving.fail(error);
      }
    },
  };
});

/** Waits until the server has every change; for what leaves the page. */
export const allSaved = (): Promise<void> => saving.done;

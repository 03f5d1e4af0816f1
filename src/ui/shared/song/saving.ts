import type { OpenSong } from "../../../contract";
import { factsNow } from "../../../core/facts/factsNow";
import { noFacts } from "../../../core/facts/facts";
import { applyAll, applyOperation, type Operation } from "../../../core/song/operations";
import { sameSources } from "../../../core/song/structure";
import { api, ApiError } from "../api";
import { playback } from "../playback";
import type { GetSong, SetSong, SongActions } from "./songState";

interface Waiting {
  readonly label: string;
  readonly operation: Operation;
}

/** How long a change waits for the server to be there again, ms. */
const triedAgain = 1500;
export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/**
 * Changes on their way to the server. What changes the song there goes one after another, however quickly it is asked
 * for: each needs the version before it.
 */
export class Saving {
  private waiting: Waiting[] = [];
  /** Steps of undo and redo that were asked for and not yet answered; they change the song on the server as edits do. */
  private steps = 0;
  private line: Promise<void> = Promise.resolve();
  /** Of the song on the server. */
  version = 0;

  constructor(
    private readonly set: SetSong,
    private readonly get: GetSong,
  ) {}

  /** Everything that was asked for until now is answered. */
  get done(): Promise<void> {
    return this.line;
  }
  readonly inLine = (work: () => Promise<void>): Promise<void> => (this.line = this.line.then(work));

  /** Forgets what was not sent, of a song that is left. */
  forget(): void {
    this.waiting = [];
    this.tellUnsaved();
  }
  private tellUnsaved(): void {
    this.set({ unsaved: this.waiting.length + this.steps });
  }

  /** Takes the server's song, with what was changed here since on top of it. */
  readonly take = (opened: OpenSong): void => {
    this.version = opened.version;
    const song = applyAll(
      opened.song,
      this.waiting.map((w) => w.operation),
    );
    const measured = { ...noFacts, ...opened.facts };
    this.set({
      song,
      measured,
      facts: factsNow(song, measured),
      analysed: opened.facts !== null,
      undo: opened.undo,
      redo: opened.redo,
      stale: false,
    });
    playback.take(song);
  };

  readonly fail = (error: unknown): void => {
    const known = error instanceof ApiError;
    this.set({
      trouble: known
        ? error.message
        : "Something went wrong in this page; what was saved is safe. Reload it.",
      stale: known && error.code === "stale",
    });
  };

  /** Sends one change until the server has it or says no; then what waits behind it is given up, too. */
  private async send(change: Waiting): Promise<void> {
    const { set, get } = this;
    while (this.waiting.includes(change)) {
      try {
        const saved = await api.change(get().id, this.version, change.label, change.operation);
        this.version = saved.version;
        this.waiting = this.waiting.filter((w) => w !== change);
        set({ undo: saved.undo, redo: saved.redo });
        this.tellUnsaved();
        if (get().trouble?.startsWith("Not saved")) set({ trouble: null });
      } catch (error) {
        if (error instanceof ApiError && error.code === "offline") {
          const trouble = `Not saved yet: ${error.message} It is tried again by itself; keep this page open.`;
          set({ trouble });
          await pause(triedAgain);
          continue;
        }
        this.forget();
        this.fail(error);
        if (!get().stale) await api.openSong(get().id).then(this.take, this.fail);
      }
    }
  }
  add(label: string, operation: Operation): void {
    const change = { label, operation };
    this.waiting.push(change);
    this.tellUnsaved();
    void this.inLine(() => this.send(change));
  }

  readonly onServer: SongActions["onServer"] = (work) => {
    const { id } = this.get();
    this.steps++;
    this.tellUnsaved();
    return this.inLine(async () => {
      try {
        // A song that was left meanwhile is not changed, and the one that is open now was not meant.
        const opened = this.get().id === id ? await work(id, this.version) : null;
        if (opened) this.take(opened);
      } catch (error) {
        this.fail(error);
      }
      this.steps--;
      this.tellUnsaved();
    });
  };
}

/** Changes of the song: heard at once, then stored. */
export const changeActions = (
  set: SetSong,
  get: GetSong,
  saving: Saving,
): Pick<SongActions, "change" | "preview" | "history" | "onServer" | "reload"> => ({
  change(label, operation) {
    get().preview(operation);
    saving.add(label, operation);
  },
  preview(operation) {
    const { song } = get();
    if (!song) return;
    const changed = applyOperation(song, operation).song;
    // The ears come first: what draws the page may take a while.
    const sameAudio = sameSources(song, changed);
    if (sameAudio) playback.change(changed, operation);
    const labelled = song.mics.some((m, i) => m.piece !== changed.mics[i]?.piece);
    set(labelled ? { song: changed, facts: factsNow(changed, get().measured) } : { song: changed });
    if (!sameAudio) playback.take(changed);
  },
  history: (direction) =>
    saving.onServer(async (id, at) => (get()[direction] ? api.step(id, at, direction) : null)),
  onServer: saving.onServer,
  async reload() {
    try {
      saving.take(await api.openSong(get().id));
      set({ trouble: null });
    } catch (error) {
      saving.fail(error);
    }
  },
});

import { create } from "zustand";
import { factsNow } from "../../core/facts/factsNow";
import { noFacts, type Facts } from "../../core/facts/facts";
import { micsOf } from "../../core/song/kitOrder";
import { applyAll, applyOperation, type Operation } from "../../core/song/operations";
import { sameSources } from "../../core/song/structure";
import type { Piece, Song, Step } from "../../core/song/song";
import type { OpenSong, Task } from "../../contract";
import { api, ApiError } from "./api";
import { playback } from "./playback";

interface Waiting {
  readonly label: string;
  readonly operation: Operation;
}

export interface SongState {
  readonly id: string;
  readonly song: Song | null;
  /** As the song calls its drums now; `measured` as the server stored them. */
  readonly facts: Facts;
  readonly measured: Facts;
  readonly analysed: boolean;
  readonly undo: string | null;
  readonly redo: string | null;
  readonly step: Step;
  /** The drum on the bench; null for the whole kit. */
  readonly piece: Piece | null;
  /** Mic on the bench, of that drum. */
  readonly mic: string | null;
  /** Bus on the bench, where it is not a mic. */
  readonly bus: string | null;
  /** Processor on the bench, the one that Compare means by "this processor". */
  readonly processor: string | null;
  /** Number of changes, undone and redone ones too, that the server does not have yet. */
  readonly unsaved: number;
  readonly trouble: string | null;
  readonly stale: boolean;
  readonly task: Task | null;

  open(id: string): Promise<void>;
  /** Takes one change: heard at once, stored, undoable. */
  change(label: string, operation: Operation): void;
  /** A gesture under way: heard and seen, but stored only by the `change` that ends it. */
  preview(operation: Operation): void;
  history(direction: "undo" | "redo"): Promise<void>;
  /** A change that the server makes of the song at this version, in line with those that were made here; null: none. */
  onServer(work: (id: string, version: number) => Promise<OpenSong | null>): Promise<void>;
  reload(): Promise<void>;
  chooseStep(step: Step): void;
  choosePiece(piece: Piece | null): void;
  chooseMic(mic: string): void;
  chooseBus(bus: string | null): void;
  chooseProcessor(processor: string | null): void;
  tell(trouble: string | null): void;
  run(kind: Task["kind"], options: object): Promise<void>;
  stopTask(): Promise<void>;
}

let waiting: Waiting[] = [];
/** Steps of undo and redo that were asked for and not yet answered; they change the song on the server as edits do. */
let steps = 0;
let version = 0;
/** What changes the song on the server goes one after another, however quickly it is asked for: each needs the version before it. */
let line: Promise<void> = Promise.resolve();
const inLine = (work: () => Promise<void>): Promise<void> => (line = line.then(work));

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

export const useSong = create<SongState>()((set, get) => {
  /** Takes the server's song, with what was changed here since on top of it. */
  const take = (opened: OpenSong): void => {
    version = opened.version;
    const song = applyAll(
      opened.song,
      waiting.map((w) => w.operation),
    );
    const measured = { ...noFacts, ...opened.facts };
    set({
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

  const fail = (error: unknown): void => {
    const known = error instanceof ApiError;
    set({
      trouble: known
        ? error.message
        : "Something went wrong in this page; what was saved is safe. Reload it.",
      stale: known && error.code === "stale",
    });
  };

  const tellUnsaved = (): void => set({ unsaved: waiting.length + steps });

  /** Sends one change until the server has it or says no; then what waits behind it is given up, too. */
  const send = async (change: Waiting): Promise<void> => {
    while (waiting.includes(change)) {
      try {
        const saved = await api.change(get().id, version, change.label, change.operation);
        version = saved.version;
        waiting = waiting.filter((w) => w !== change);
        set({ undo: saved.undo, redo: saved.redo });
        tellUnsaved();
        if (get().trouble?.startsWith("Not saved")) set({ trouble: null });
      } catch (error) {
        if (error instanceof ApiError && error.code === "offline") {
          set({
            trouble: `Not saved yet: ${error.message} It is tried again by itself; keep this page open.`,
          });
          await pause(1500);
          continue;
        }
        waiting = [];
        tellUnsaved();
        fail(error);
        if (!get().stale) await api.openSong(get().id).then(take, fail);
      }
    }
  };

  const follow = async (task: Task): Promise<void> => {
    let now = task;
    const { id } = get();
    set({ task: now });
    while (now.state === "waiting" || now.state === "running") {
      await pause(300);
      try {
        now = await api.readTask(task.id);
      } catch (error) {
        if (error instanceof ApiError && error.code === "offline") continue;
        return fail(error);
      }
      if (get().id !== id) return;
      // Another task may be the one that is shown by now.
      if (get().task?.id === task.id) set({ task: now });
    }
    // What Tighten shows before its cuts are planned is taken back when they are not.
    if (now.kind === "tighten" || (now.kind !== "export" && now.state === "done"))
      await api.openSong(id).then(take, fail);
    if (now.state === "failed") set({ trouble: now.message });
  };

  return {
    id: "",
    song: null,
    facts: noFacts,
    measured: noFacts,
    analysed: false,
    undo: null,
    redo: null,
    step: "gather",
    piece: null,
    mic: null,
    bus: null,
    processor: null,
    unsaved: 0,
    trouble: null,
    stale: false,
    task: null,

    async open(id) {
      waiting = [];
      tellUnsaved();
      set({
        id,
        song: null,
        task: null,
        trouble: null,
        piece: null,
        mic: null,
        bus: null,
        processor: null,
        step: "gather",
      });
      try {
        const opened = await api.openSong(id);
        if (get().id !== id) return;
        take(opened);
        const running = (await api.listTasks(id)).find((t) => t.state === "waiting" || t.state === "running");
        if (running) void follow(running);
      } catch (error) {
        fail(error);
      }
    },
    change(label, operation) {
      get().preview(operation);
      const entry = { label, operation };
      waiting.push(entry);
      tellUnsaved();
      void inLine(() => send(entry));
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
      get().onServer(async (id, at) => (get()[direction] ? api.step(id, at, direction) : null)),
    onServer(work) {
      const { id } = get();
      steps++;
      tellUnsaved();
      return inLine(async () => {
        try {
          // A song that was left meanwhile is not changed, and the one that is open now was not meant.
          const opened = get().id === id ? await work(id, version) : null;
          if (opened) take(opened);
        } catch (error) {
          fail(error);
        }
        steps--;
        tellUnsaved();
      });
    },
    async reload() {
      try {
        take(await api.openSong(get().id));
        set({ trouble: null });
      } catch (error) {
        fail(error);
      }
    },
    chooseStep: (step) => set({ step, processor: null }),
    choosePiece(piece) {
      const { song } = get();
      const mics = song ? micsOf(song, piece) : [];
      const mic =
        mics.find((m) => !m.reference && !m.silent) ??
        mics[0] ??
        song?.mics.find((m) => m.layer && m.layer.drum === piece);
      set({ piece, mic: mic?.id ?? null, bus: null, processor: null });
    },
    chooseMic(mic) {
      const found = get().song?.mics.find((m) => m.id === mic);
      if (found) set({ piece: found.layer?.drum ?? found.piece, mic, bus: null, processor: null });
    },
    chooseBus: (bus) => set({ bus, processor: null }),
    chooseProcessor: (processor) => set({ processor }),
    tell: (trouble) => set({ trouble }),
    async run(kind, options) {
      const start = async (more: object = {}): Promise<void> => {
        try {
          await follow(await api.startTask(get().id, kind, { ...options, ...more }));
        } catch (error) {
          fail(error);
        }
      };
      // What is planned from the song as it stands here must find it so; other work takes it as it is then.
      if (kind === "tighten") return inLine(() => start({ version }));
      await line;
      return start();
    },
    async stopTask() {
      const { task } = get();
      if (task) await api.stopTask(task.id).catch(fail);
    },
  };
});

/** Waits until the server has every change; for what leaves the page. */
export const allSaved = (): Promise<void> => line;

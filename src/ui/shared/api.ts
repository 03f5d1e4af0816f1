import type { WaysAnswer } from "../../core/clean/judgeWays";
import type { Treatment } from "../../core/clean/treatments";
import type { CymbalPlace } from "../../core/clean/stereoPosition";
import type { MonoBand } from "../../core/align/monoCheck";
import type { Facts } from "../../core/gather/proposal";
import type { Operation } from "../../core/song/operations";
import type { NullResult } from "../../core/blend/nullTest";
import type { ProcessorState, Song } from "../../core/song/song";

/** What the server said no to, in words for the user; `code` "offline" when it could not be reached. */
export class ApiError extends Error {
  override readonly name = "ApiError";
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

export interface OpenSong {
  readonly id: string;
  readonly song: Song;
  readonly version: number;
  readonly facts: Facts | null;
  readonly undo: string | null;
  readonly redo: string | null;
}
export interface SongEntry {
  readonly id: string;
  readonly title: string;
  readonly mics: number;
  readonly seconds: number;
  readonly updatedAt: string;
}
export interface Task {
  readonly id: string;
  readonly kind: "analyse" | "export" | "clock" | "tighten";
  readonly state: "waiting" | "running" | "done" | "failed" | "cancelled";
  readonly progress: number;
  readonly message: string;
  readonly result: object | null;
}
export interface ExportChoice {
  readonly stems: boolean;
  readonly buses: boolean;
  readonly format: string;
}

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetch(path, init);
  } catch {
    throw new ApiError("offline", "The server cannot be reached.");
  }
  const text = await response.text();
  let body: unknown = null;
  try {
    body = JSON.parse(text);
  } catch {
    // An answer that is not ours, from something in between: told below by its status.
  }
  if (response.ok && body !== null) return body as T;
  const { code = "internal", message = `The server answered ${response.status}.` } = (body ?? {}) as {
    code?: string;
    message?: string;
  };
  throw new ApiError(response.status === 401 ? "locked" : code, message);
}

const post = <T>(path: string, body: object): Promise<T> =>
  ask(path, { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) });

/** One state the song was in. */
export interface PastState {
  readonly position: number;
  readonly before: string;
  readonly at: string;
}

/** What ways to clean a mic do to it. */
export interface JudgedCleaning extends WaysAnswer {
  readonly ways: readonly Treatment[];
}

/** What the kit loses in mono. */
export interface MonoMeasured {
  readonly bands: readonly MonoBand[];
  readonly strokes: number;
}

/** A chain that is kept under a name, for all songs. */
export interface KeptChain {
  readonly id: string;
  readonly name: string;
  readonly chain: readonly ProcessorState[];
}

/** How the files of one upload fared; an archive holds several. */
export interface Delivered {
  readonly taken: readonly { readonly file: string; readonly remarks: readonly string[] }[];
  readonly refused: readonly { readonly file: string; readonly message: string }[];
}

export const api = {
  listSongs: async () => (await ask<{ songs: SongEntry[] }>("/api/songs")).songs,
  createSong: async (title: string) => (await post<{ id: string }>("/api/songs", { title })).id,
  deleteSong: (id: string) => ask<object>(`/api/songs/${id}`, { method: "DELETE" }),
  openSong: (id: string) => ask<OpenSong>(`/api/songs/${id}`),
  change: (id: string, version: number, label: string, operation: Operation) =>
    post<Omit<OpenSong, "song">>(`/api/songs/${id}/operations`, { version, label, operation }),
  step: (id: string, version: number, direction: "undo" | "redo") =>
    post<OpenSong>(`/api/songs/${id}/history`, { version, direction }),
  listPast: async (id: string) => (await ask<{ past: PastState[] }>(`/api/songs/${id}/history`)).past,
  songAt: async (id: string, position: number) =>
    (await ask<{ song: Song }>(`/api/songs/${id}/history?position=${position}`)).song,
  startTask: (id: string, kind: Task["kind"], options: object) =>
    post<Task>(`/api/songs/${id}/tasks`, { kind, options }),
  listTasks: async (id: string) => (await ask<{ tasks: Task[] }>(`/api/songs/${id}/tasks`)).tasks,
  readTask: (id: string) => ask<Task>(`/api/tasks/${id}`),
  stopTask: (id: string) => ask<object>(`/api/tasks/${id}`, { method: "DELETE" }),
  beginUpload: (id: string, file: { name: string; bytes: number; mark: string }) =>
    post<{ id: string; received: number }>(`/api/songs/${id}/uploads`, file),
  takeUpload: (id: string) => post<Delivered>(`/api/uploads/${id}`, {}),
  judgeCleaning: (id: string, mic: string) => ask<JudgedCleaning>(`/api/songs/${id}/mics/${mic}/cleaning`),
  measurePlaces: (id: string) => ask<{ places: readonly CymbalPlace[] }>(`/api/songs/${id}/places`),
  measureMono: (id: string) => ask<MonoMeasured>(`/api/songs/${id}/mono`),
  measureNull: (id: string, bus: string) =>
    ask<NullResult>(`/api/songs/${id}/null?bus=${encodeURIComponent(bus)}`),
  keptChains: async () => (await ask<{ chains: KeptChain[] }>("/api/chains")).chains,
  keepChain: (name: string, chain: readonly ProcessorState[]) =>
    post<KeptChain>("/api/chains", { name, chain }),
  giveUpChain: (id: string) => ask<object>(`/api/chains/${id}`, { method: "DELETE" }),
  importArchive: async (file: File) =>
    (await ask<{ id: string }>("/api/archives", { method: "POST", body: file })).id,
  enter: (passphrase: string) => post<object>("/api/session", { passphrase }),
};

import type { Facts } from "../../core/gather/proposal";
import type { Operation } from "../../core/song/operations";
import type { Song } from "../../core/song/song";

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
  readonly kind: "analyse" | "export";
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
  importArchive: async (file: File) =>
    (await ask<{ id: string }>("/api/archives", { method: "POST", body: file })).id,
  enter: (passphrase: string) => post<object>("/api/session", { passphrase }),
};

/** Sends one audio file, with progress 0..1; `signal` breaks it off and leaves nothing behind. */
export function uploadAudio(
  songId: string,
  file: File,
  progress: (share: number) => void,
  signal: AbortSignal,
): Promise<{ remarks: string[] }> {
  return new Promise((resolve, reject) => {
    const request = new XMLHttpRequest(); // fetch tells no upload progress
    request.open("PUT", `/api/songs/${songId}/files?name=${encodeURIComponent(file.name)}`);
    request.upload.onprogress = (event) => progress(event.loaded / Math.max(1, event.total));
    request.onerror = () =>
      reject(new ApiError("offline", "The connection broke off; nothing of it was kept."));
    request.onabort = () => reject(new ApiError("stopped", "Stopped; nothing of it was kept."));
    request.onload = () => {
      let body: { remarks?: string[]; code?: string; message?: string } = {};
      try {
        body = JSON.parse(request.responseText) as typeof body;
      } catch {
        // told by its status below
      }
      if (request.status === 200) resolve({ remarks: body.remarks ?? [] });
      else
        reject(
          new ApiError(body.code ?? "internal", body.message ?? `The server answered ${request.status}.`),
        );
    };
    signal.addEventListener("abort", () => request.abort());
    request.send(file);
  });
}

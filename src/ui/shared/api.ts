import type {
  Delivered,
  JudgedCleaning,
  KeptChain,
  KitChecked,
  LayerSource,
  MaskingJudged,
  MonoMeasured,
  NullMeasured,
  OpenSong,
  PastState,
  PathJudged,
  RecordMeasured,
  Revision,
  PlacesMeasured,
  Room,
  SongEntry,
  Task,
  TaskKind,
} from "../../contract";
import type { Operation } from "../../core/song/operations";
import type { Piece, ProcessorState, Song } from "../../core/song/song";

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

export const api = {
  listSongs: async () => (await ask<{ songs: SongEntry[] }>("/api/songs")).songs,
  createSong: async (title: string) => (await post<{ id: string }>("/api/songs", { title })).id,
  listDeleted: async () => (await ask<{ songs: SongEntry[] }>("/api/songs?deleted")).songs,
  copySong: async (id: string) => (await post<{ id: string }>(`/api/songs/${id}/copy`, {})).id,
  restoreSong: (id: string) => post<object>(`/api/songs/${id}/restore`, {}),
  deleteSong: (id: string) => ask<object>(`/api/songs/${id}`, { method: "DELETE" }),
  openSong: (id: string) => ask<OpenSong>(`/api/songs/${id}`),
  change: (id: string, version: number, label: string, operation: Operation) =>
    post<Omit<OpenSong, "song">>(`/api/songs/${id}/operations`, { version, label, operation }),
  step: (id: string, version: number, direction: "undo" | "redo") =>
    post<OpenSong>(`/api/songs/${id}/history`, { version, direction }),
  listPast: async (id: string) => (await ask<{ past: PastState[] }>(`/api/songs/${id}/history`)).past,
  songAt: async (id: string, position: number) =>
    (await ask<{ song: Song }>(`/api/songs/${id}/history?position=${position}`)).song,
  listRevisions: async (id: string) =>
    (await ask<{ revisions: Revision[] }>(`/api/songs/${id}/revisions`)).revisions,
  keepRevision: (id: string, name: string, note: string) =>
    post<Revision>(`/api/songs/${id}/revisions`, { name, note }),
  revisionSong: async (id: string, number: number) =>
    (await ask<{ song: Song }>(`/api/songs/${id}/revisions/${number}`)).song,
  restoreRevision: (id: string, number: number, version: number, drum: Piece | null) =>
    post<OpenSong>(`/api/songs/${id}/revisions/${number}/restore`, { version, drum }),
  addLayer: (id: string, version: number, source: LayerSource) =>
    post<OpenSong>(`/api/songs/${id}/layers`, { version, ...source }),
  takeLoopApart: (id: string, version: number, mic: string) =>
    post<OpenSong>(`/api/songs/${id}/mics/${mic}/apart`, { version }),
  giveUpRevision: (id: string, number: number) =>
    ask<object>(`/api/songs/${id}/revisions/${number}`, { method: "DELETE" }),
  startTask: (id: string, kind: TaskKind, options: object) =>
    post<Task>(`/api/songs/${id}/tasks`, { kind, options }),
  listTasks: async (id: string) => (await ask<{ tasks: Task[] }>(`/api/songs/${id}/tasks`)).tasks,
  readTask: (id: string) => ask<Task>(`/api/tasks/${id}`),
  stopTask: (id: string) => ask<object>(`/api/tasks/${id}`, { method: "DELETE" }),
  beginUpload: (id: string, file: { name: string; bytes: number; mark: string }) =>
    post<{ id: string; received: number }>(`/api/songs/${id}/uploads`, file),
  room: () => ask<Room>("/api/room"),
  takeUpload: (id: string) => post<Delivered>(`/api/uploads/${id}`, {}),
  judgeCleaning: (id: string, mic: string) => ask<JudgedCleaning>(`/api/songs/${id}/mics/${mic}/cleaning`),
  measurePlaces: (id: string) => ask<PlacesMeasured>(`/api/songs/${id}/places`),
  measureMono: (id: string) => ask<MonoMeasured>(`/api/songs/${id}/mono`),
  checkKit: (id: string) => ask<KitChecked>(`/api/songs/${id}/checks`),
  measureRecord: (id: string, section: string | null) =>
    ask<RecordMeasured>(
      `/api/songs/${id}/record${section === null ? "" : `?section=${encodeURIComponent(section)}`}`,
    ),
  judgePath: (id: string, bus: string) =>
    ask<PathJudged>(`/api/songs/${id}/path?bus=${encodeURIComponent(bus)}`),
  judgeMasking: (id: string, of: string, by: string) =>
    ask<MaskingJudged>(`/api/songs/${id}/masking?${new URLSearchParams({ of, by }).toString()}`),
  measureNull: (id: string, bus: string) =>
    ask<NullMeasured>(`/api/songs/${id}/null?bus=${encodeURIComponent(bus)}`),
  keptChains: async () => (await ask<{ chains: KeptChain[] }>("/api/chains")).chains,
  keepChain: (name: string, chain: readonly ProcessorState[]) =>
    post<KeptChain>("/api/chains", { name, chain }),
  giveUpChain: (id: string) => ask<object>(`/api/chains/${id}`, { method: "DELETE" }),
  importArchive: async (file: File) =>
    (await ask<{ id: string }>("/api/archives", { method: "POST", body: file })).id,
  enter: (passphrase: string) => post<object>("/api/session", { passphrase }),
};

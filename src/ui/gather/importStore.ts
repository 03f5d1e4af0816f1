import { create } from "zustand";
import type { Room } from "../../contract";
import { api, ApiError } from "../shared/api";
import { useSong } from "../shared/songStore";
import { sendFile } from "./upload";

export interface ImportRow {
  readonly id: number;
  readonly file: File;
  readonly progress: number;
  readonly state: "waiting" | "coming" | "in" | "refused" | "stopped";
  readonly message: string;
}

interface ImportState {
  readonly rows: readonly ImportRow[];
  readonly busy: boolean;
  /** Files of so many bytes that it is asked first. */
  readonly asked: Asked | null;
}

export interface Asked {
  readonly songId: string;
  readonly files: readonly File[];
  readonly bytes: number;
  /** Null where it could not be learnt. */
  readonly room: Room | null;
}

export const useImport = create<ImportState>()(() => ({ rows: [], busy: false, asked: null }));

/** Files sent side by side: enough to keep the disk busy. */
const sideBySide = 3;
let nextId = 1;
let stopper = new AbortController();

const patch = (id: number, change: Partial<ImportRow>) =>
  useImport.setState((s) => ({ rows: s.rows.map((r) => (r.id === id ? { ...r, ...change } : r)) }));

async function send(songId: string, row: ImportRow): Promise<void> {
  patch(row.id, { state: "coming" });
  try {
    const { taken, refused } = await sendFile(
      songId,
      row.file,
      (progress) => patch(row.id, { progress }),
      stopper.signal,
    );
    const several = taken.length + refused.length > 1;
    const lines = [
      ...(several
        ? [`${taken.length} of ${taken.length + refused.length} files of the archive are in.`]
        : []),
      ...taken.flatMap((t) => t.remarks.map((r) => (several ? `${t.file}: ${r}` : r))),
      ...refused.map((r) => r.message),
    ];
    patch(row.id, { state: taken.length > 0 ? "in" : "refused", progress: 1, message: lines.join("; ") });
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    const stopped = error instanceof ApiError && error.code === "stopped";
    patch(row.id, { state: stopped ? "stopped" : "refused", message });
  }
}

async function sendAll(songId: string): Promise<void> {
  useImport.setState({ busy: true });
  stopper = new AbortController();
  const next = () => useImport.getState().rows.find((r) => r.state === "waiting");
  const lane = async () => {
    for (let row = next(); row; row = next()) await send(songId, row);
  };
  await Promise.all(Array.from({ length: sideBySide }, lane));
  useImport.setState({ busy: false });
  await useSong.getState().reload();
  if (useSong.getState().id === songId && useImport.getState().rows.some((r) => r.state === "in"))
    await useSong.getState().run("analyse", {});
}

/** From so many bytes on it is said first what they need; a song of 24 mics and four minutes has a quarter of it. */
const askedFrom = 4e9;

/** Brings files into the song, then analyses the kit; of many bytes it is asked first. */
export async function importFiles(songId: string, files: readonly File[]): Promise<void> {
  const bytes = files.reduce((sum, f) => sum + f.size, 0);
  const room = await api.room().catch(() => null);
  const tight = room !== null && bytes > 0.8 * room.diskFree;
  if (bytes > 0 && (bytes >= askedFrom || tight))
    useImport.setState({ asked: { songId, files, bytes, room } });
  else begin(songId, files);
}
/** Brings in what was asked about. */
export function takeFiles(): void {
  const { asked } = useImport.getState();
  leaveFiles();
  if (asked) begin(asked.songId, asked.files);
}
export const leaveFiles = (): void => useImport.setState({ asked: null });

function begin(songId: string, files: readonly File[]): void {
  const fresh = files.map((file): ImportRow => ({
    id: nextId++,
    file,
    progress: 0,
    state: "waiting",
    message: "",
  }));
  const { rows, busy } = useImport.getState();
  useImport.setState({ rows: [...(busy ? rows : []), ...fresh] });
  if (!busy) void sendAll(songId);
}

/** Stops what is under way and drops what waits; what is in stays in. */
export function stopImport(): void {
  useImport.setState((s) => ({
    rows: s.rows.map((r) => (r.state === "waiting" ? { ...r, state: "stopped", message: "Not sent." } : r)),
  }));
  stopper.abort();
}

/** Sends again what was refused by a broken connection or stopped. */
export function retryImport(songId: string): void {
  // What is under way ends first: its signal may have been given already.
  if (useImport.getState().busy) return;
  useImport.setState((s) => ({
    rows: s.rows.map((r) =>
      r.state === "refused" || r.state === "stopped"
        ? { ...r, state: "waiting", progress: 0, message: "" }
        : r,
    ),
  }));
  void sendAll(songId);
}

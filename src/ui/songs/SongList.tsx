"use client";
import { useEffect, useState } from "react";
import { Alert } from "react-bootstrap";
import type { SongEntry } from "../../contract";
import { api } from "../shared/api";
import { DeletedSongs } from "./DeletedSongs";
import { NewSong } from "./NewSong";
import { SongTable } from "./SongTable";

/** All songs; a new one, or one from an archive. */
export function SongList() {
  const [songs, setSongs] = useState<readonly SongEntry[] | null>(null);
  const [deleted, setDeleted] = useState<readonly SongEntry[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const tell = (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error));
  useEffect(() => {
    api.listSongs().then(setSongs, (error: Error) => setTrouble(error.message));
    api.listDeleted().then(setDeleted, () => {}); // the list above tells what is wrong
  }, []);
  /** Does something with a song, and lists all anew. */
  const doing = async (work: Promise<unknown>) => {
    await work.catch(tell);
    await Promise.all([api.listSongs().then(setSongs, tell), api.listDeleted().then(setDeleted, () => {})]);
  };
  const remove = (song: SongEntry) => {
    const asked = `Delete "${song.title}" with its ${song.mics} mics? It can be brought back for 30 days.`;
    if (window.confirm(asked)) void doing(api.deleteSong(song.id));
  };
  const copy = (song: SongEntry) => void doing(api.copySong(song.id));
  const rename = ({ id }: SongEntry, title: string) =>
    void doing(
      api
        .openSong(id)
        .then(({ version }) => api.change(id, version, "Title", { op: "setSong", values: { title } })),
    );
  return (
    <main className="song-list">
      <h1>
        <span className="home">jubo</span> finished kits from many mics
      </h1>
      {trouble && (
        <Alert variant="warning" dismissible onClose={() => setTrouble(null)}>
          {trouble}
        </Alert>
      )}
      <NewSong tell={tell} />
      {songs === null ? (
        <p>Loading …</p>
      ) : songs.length === 0 ? (
        <p className="nothing">No songs yet. Make a new one and drop a folder of mic files on it.</p>
      ) : (
        <SongTable songs={songs} acts={{ rename, copy, remove }} />
      )}
      <DeletedSongs songs={deleted} restore={(song) => void doing(api.restoreSong(song.id))} />
    </main>
  );
}

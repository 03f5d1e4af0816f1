"use client";
import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { Alert, Button, Form, Spinner } from "react-bootstrap";
import type { SongEntry } from "../../contract";
import { api } from "../shared/api";
import { SongTable } from "./SongTable";

/** All songs; a new one, or one from an archive. */
export function SongList() {
  const [songs, setSongs] = useState<readonly SongEntry[] | null>(null);
  const [title, setTitle] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [unpacking, setUnpacking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const router = useRouter();
  const tell = (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error));
  const [deleted, setDeleted] = useState<readonly SongEntry[]>([]);
  const load = () =>
    Promise.all([api.listSongs().then(setSongs, tell), api.listDeleted().then(setDeleted, () => {})]);
  useEffect(() => {
    api.listSongs().then(setSongs, (error: Error) => setTrouble(error.message));
    api.listDeleted().then(setDeleted, () => {}); // the list above tells what is wrong
  }, []);
  const make = async () => {
    try {
      router.push(`/songs/${await api.createSong(title.trim() || "New song")}`);
    } catch (error) {
      tell(error);
    }
  };
  const unpack = async (archive: File) => {
    setUnpacking(true);
    try {
      router.push(`/songs/${await api.importArchive(archive)}`);
    } catch (error) {
      tell(error);
      setUnpacking(false);
    }
  };
  /** Does something with a song, and lists all anew. */
  const doing = async (work: Promise<unknown>) => {
    await work.catch(tell);
    await load();
  };
  const remove = (song: SongEntry) => {
    const asked = `Delete "${song.title}" with its ${song.mics} mics? It can be brought back for 30 days.`;
    if (window.confirm(asked)) void doing(api.deleteSong(song.id));
  };
  const copy = (song: SongEntry) => void doing(api.copySong(song.id));
  const rename = (song: SongEntry, title: string) =>
    void doing(
      api
        .openSong(song.id)
        .then(({ version }) => api.change(song.id, version, "Title", { op: "setSong", values: { title } })),
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
      <section className="new-song">
        <Form
          onSubmit={(event) => {
            event.preventDefault();
            void make();
          }}
        >
          <Form.Control
            aria-label="Title of the new song"
            placeholder="Title"
            maxLength={200}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
          <Button type="submit">New song</Button>
        </Form>
        <input
          ref={file}
          type="file"
          accept=".zip,application/zip"
          hidden
          aria-label="Song archive"
          onChange={(event) => event.target.files?.[0] && void unpack(event.target.files[0])}
        />
        <Button variant="outline-primary" disabled={unpacking} onClick={() => file.current?.click()}>
          {unpacking ? (
            <>
              <Spinner size="sm" /> Unpacking …
            </>
          ) : (
            "Open an archive"
          )}
        </Button>
      </section>
      {songs === null ? (
        <p>Loading …</p>
      ) : songs.length === 0 ? (
        <p className="nothing">No songs yet. Make a new one and drop a folder of mic files on it.</p>
      ) : (
        <SongTable songs={songs} acts={{ rename, copy, remove }} />
      )}
      {deleted.length > 0 && (
        <details className="deleted">
          <summary>{deleted.length} deleted, kept for 30 days</summary>
          <ul>
            {deleted.map((song) => (
              <li key={song.id}>
                {song.title}{" "}
                <Button
                  variant="link"
                  size="sm"
                  aria-label={`Bring ${song.title} back`}
                  onClick={() => void doing(api.restoreSong(song.id))}
                >
                  bring back
                </Button>
              </li>
            ))}
          </ul>
        </details>
      )}
    </main>
  );
}

"use client";
import Link from "next/link";
import { useRouter } from "next/navigation";
import { useEffect, useRef, useState } from "react";
import { Alert, Button, Form, Spinner, Table } from "react-bootstrap";
import { Trash } from "react-bootstrap-icons";
import type { SongEntry } from "../../contract";
import { api } from "../shared/api";
import { clock } from "../shared/format";

/** All songs; a new one, or one from an archive. */
export function SongList() {
  const [songs, setSongs] = useState<readonly SongEntry[] | null>(null);
  const [title, setTitle] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [unpacking, setUnpacking] = useState(false);
  const file = useRef<HTMLInputElement>(null);
  const router = useRouter();
  const tell = (error: unknown) => setTrouble(error instanceof Error ? error.message : String(error));
  const load = () => api.listSongs().then(setSongs, tell);
  useEffect(() => void api.listSongs().then(setSongs, (error: Error) => setTrouble(error.message)), []);
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
  const remove = async (song: SongEntry) => {
    if (!window.confirm(`Delete "${song.title}" with its ${song.mics} mics? This cannot be undone.`)) return;
    await api.deleteSong(song.id).catch(tell);
    await load();
  };
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
        <Table aria-label="Songs" className="songs">
          <thead>
            <tr>
              <th>Song</th>
              <th className="number">Mics</th>
              <th className="number">Length</th>
              <th>Changed</th>
              <th aria-label="Delete" />
            </tr>
          </thead>
          <tbody>
            {songs.map((s) => (
              <tr key={s.id}>
                <td>
                  <Link href={`/songs/${s.id}`}>{s.title}</Link>
                </td>
                <td className="number">{s.mics}</td>
                <td className="number">{clock(s.seconds)}</td>
                <td>
                  {new Date(s.updatedAt).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
                </td>
                <td>
                  <Button
                    variant="link"
                    size="sm"
                    aria-label={`Delete ${s.title}`}
                    onClick={() => void remove(s)}
                  >
                    <Trash aria-hidden />
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </main>
  );
}

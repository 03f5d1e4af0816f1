"use client";
import Link from "next/link";
import { useMemo, useState } from "react";
import { Button, Form, Table } from "react-bootstrap";
import { Copy, Pencil, Trash } from "react-bootstrap-icons";
import type { SongEntry } from "../../contract";
import { clock, fileSize } from "../shared/format";
import { found, sorted, type Column } from "./sortSongs";

/** Fewer songs are seen at a glance. */
const worthSearching = 6;
const columns: readonly (readonly [Column, string, boolean])[] = [
  ["title", "Song", false],
  ["mics", "Mics", true],
  ["seconds", "Length", true],
  ["bytes", "Size", true],
  ["updatedAt", "Changed", false],
];

interface Acts {
  readonly rename: (song: SongEntry, title: string) => void;
  readonly copy: (song: SongEntry) => void;
  readonly remove: (song: SongEntry) => void;
}

function SongRow({ song, acts }: { song: SongEntry; acts: Acts }) {
  const [title, setTitle] = useState<string | null>(null);
  const take = () => {
    const wanted = title?.trim();
    setTitle(null);
    if (wanted && wanted !== song.title) acts.rename(song, wanted);
  };
  return (
    <tr>
      <td>
        {title === null ? (
          <Link href={`/songs/${song.id}`}>{song.title}</Link>
        ) : (
          <Form.Control
            size="sm"
            autoFocus
            aria-label={`New title of ${song.title}`}
            maxLength={200}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
            onBlur={take}
            onKeyDown={(e) => {
              if (e.key === "Enter") e.currentTarget.blur();
              if (e.key === "Escape") setTitle(null);
            }}
          />
        )}
      </td>
      <td className="number">{song.mics}</td>
      <td className="number">{clock(song.seconds)}</td>
      <td className="number">{fileSize(song.bytes)}</td>
      <td>{new Date(song.updatedAt).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}</td>
      <td className="acts">
        <Button
          variant="link"
          size="sm"
          aria-label={`Rename ${song.title}`}
          onClick={() => setTitle(song.title)}
        >
          <Pencil aria-hidden />
        </Button>
        <Button variant="link" size="sm" aria-label={`Copy ${song.title}`} onClick={() => acts.copy(song)}>
          <Copy aria-hidden />
        </Button>
        <Button
          variant="link"
          size="sm"
          aria-label={`Delete ${song.title}`}
          onClick={() => acts.remove(song)}
        >
          <Trash aria-hidden />
        </Button>
      </td>
    </tr>
  );
}

/** All songs, sought by their titles and sorted by any column. */
export function SongTable({ songs, acts }: { songs: readonly SongEntry[]; acts: Acts }) {
  const [words, setWords] = useState("");
  const [by, setBy] = useState<{ column: Column; down: boolean }>({ column: "updatedAt", down: true });
  const shown = useMemo(() => sorted(found(songs, words), by.column, by.down), [songs, words, by]);
  const sort = (column: Column) =>
    setBy((now) => ({ column, down: now.column === column ? !now.down : column !== "title" }));
  return (
    <>
      {songs.length >= worthSearching && (
        <Form.Control
          type="search"
          className="search"
          aria-label="Search songs"
          placeholder="Search"
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
      )}
      <Table aria-label="Songs" className="songs">
        <thead>
          <tr>
            {columns.map(([column, label, number]) => (
              <th
                key={column}
                className={number ? "number" : ""}
                aria-sort={by.column !== column ? "none" : by.down ? "descending" : "ascending"}
              >
                <button type="button" className="sort" onClick={() => sort(column)}>
                  {label} {by.column === column && (by.down ? "↓" : "↑")}
                </button>
              </th>
            ))}
            <th aria-label="What can be done" />
          </tr>
        </thead>
        <tbody>
          {shown.map((s) => (
            <SongRow key={s.id} song={s} acts={acts} />
          ))}
        </tbody>
      </Table>
      {shown.length === 0 && <p className="nothing">No title has “{words}” in it.</p>}
    </>
  );
}

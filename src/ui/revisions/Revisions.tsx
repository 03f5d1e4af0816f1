"use client";
import { useState } from "react";
import { Button, Dropdown, Form } from "react-bootstrap";
import type { Revision } from "../../contract";
import { pieceNames } from "../../core/song/pieceNames";
import { isDrum, type Piece } from "../../core/song/song";
import { api } from "../shared/api";
import { useSong } from "../shared/songStore";
import { giveUp, keep, useRevisions } from "./revisionStore";

/** Changes of a revision that are shown until one asks for all. */
const shown = 6;
/** Revisions that are drawn at first, and more each time one asks for them. */
const page = 30;

/** True when a revision is called so, or holds the words in its note or changes. */
const holds = ({ number, name, note, changes }: Revision, words: string): boolean =>
  [String(number), name, note, ...changes].some((text) => text.toLowerCase().includes(words));

/** Puts the song, or one drum of it, back to what a revision holds: one step that can be undone. */
const goTo = ({ number }: Revision, drum: Piece | null): Promise<void> =>
  useSong.getState().onServer((id, version) => api.restoreRevision(id, number, version, drum));

/** What can be done with a revision. */
function Acts({ revision }: { revision: Revision }) {
  const id = useSong((s) => s.id);
  const mics = useSong((s) => s.song!.mics);
  const drums = [...new Set(mics.map((m) => m.piece))].filter(isDrum);
  const { number, name } = revision;
  const sure = () => window.confirm(`Give revision ${number}, ${name}, up? It cannot be brought back.`);
  return (
    <span className="revision-acts">
      <Button size="sm" variant="outline-primary" onClick={() => void goTo(revision, null)}>
        Go back to it
      </Button>
      <Dropdown>
        <Dropdown.Toggle size="sm" variant="outline-primary">
          One drum of it
        </Dropdown.Toggle>
        <Dropdown.Menu>
          {drums.map((piece) => (
            <Dropdown.Item key={piece} as="button" onClick={() => void goTo(revision, piece)}>
              {pieceNames[piece]}
            </Dropdown.Item>
          ))}
        </Dropdown.Menu>
      </Dropdown>
      <a
        className="btn btn-sm btn-outline-primary"
        href={`/api/songs/${id}/archive?revision=${number}`}
        download
      >
        As a file
      </a>
      <Button size="sm" variant="outline-secondary" onClick={() => sure() && void giveUp(number)}>
        Give up
      </Button>
    </span>
  );
}

function Entry({ revision }: { revision: Revision }) {
  const [all, setAll] = useState(false);
  const { number, name, note, changes, at } = revision;
  return (
    <li className="panel revision">
      <header>
        <h3>
          {number}. {name} <small>{new Date(at).toLocaleString()}</small>
        </h3>
        <Acts revision={revision} />
      </header>
      {note && <p>{note}</p>}
      {changes.length === 0 ? (
        <p className="hint">{number === 1 ? "The first one." : "Nothing changed since the one before."}</p>
      ) : (
        <ul className="revision-changes">
          {(all ? changes : changes.slice(0, shown)).map((words, i) => (
            <li key={i}>{words}</li>
          ))}
          {changes.length > shown && (
            <li>
              <Button variant="link" size="sm" onClick={() => setAll(!all)}>
                {all ? "fewer" : `${changes.length - shown} more`}
              </Button>
            </li>
          )}
        </ul>
      )}
    </li>
  );
}

/** Keeps the song as it stands under the next number. */
function KeepForm({ next }: { next: number }) {
  const [name, setName] = useState("");
  const [note, setNote] = useState("");
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    await keep(name.trim(), note.trim());
    setBusy(false);
    setName("");
    setNote("");
  };
  return (
    <form
      className="panel keep-revision"
      aria-label="Keep a revision"
      onSubmit={(event) => {
        event.preventDefault();
        if (name.trim() !== "" && !busy) void submit();
      }}
    >
      <Form.Control
        size="sm"
        aria-label="Name of the revision"
        placeholder="Name"
        maxLength={80}
        value={name}
        onChange={(e) => setName(e.target.value)}
      />
      <Form.Control
        size="sm"
        aria-label="Note"
        placeholder="Note"
        maxLength={2000}
        value={note}
        onChange={(e) => setNote(e.target.value)}
      />
      <Button size="sm" type="submit" disabled={busy || name.trim() === ""}>
        Keep as revision {next}
      </Button>
    </form>
  );
}

/** The revisions that hold the words one searches for, a page at a time. */
function RevisionList({ revisions }: { revisions: readonly Revision[] }) {
  const [wanted, setWanted] = useState("");
  const [drawn, setDrawn] = useState(page);
  const words = wanted.trim().toLowerCase();
  const found = words === "" ? revisions : revisions.filter((r) => holds(r, words));
  return (
    <>
      {revisions.length > page / 3 && (
        <div className="bench-head">
          <Form.Control
            size="sm"
            type="search"
            className="search"
            aria-label="Search the revisions"
            placeholder="Search names, notes and changes"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
          />
          {words !== "" && (
            <small role="status">
              {found.length} of {revisions.length}
            </small>
          )}
        </div>
      )}
      <ol className="revisions">
        {found.slice(0, drawn).map((r) => (
          <Entry key={r.number} revision={r} />
        ))}
      </ol>
      {found.length > drawn && (
        <Button size="sm" variant="outline-primary" onClick={() => setDrawn(drawn + page)}>
          Earlier ones, {found.length - drawn}
        </Button>
      )}
    </>
  );
}

/** States of the song under a number and a name: kept, listed with what changed, gone back to, one drum taken from, given away. */
export function Revisions() {
  const revisions = useRevisions();
  return (
    <>
      <KeepForm next={(revisions[0]?.number ?? 0) + 1} />
      {revisions.length === 0 ? (
        <p className="lead">
          A revision is the whole song under a number and a name: compared in “an earlier state …”, gone back
          to as one step, or one drum of it.
        </p>
      ) : (
        <RevisionList revisions={revisions} />
      )}
    </>
  );
}

"use client";
import { useState } from "react";
import { Button, ProgressBar } from "react-bootstrap";
import { FolderPlus } from "react-bootstrap-icons";
import { useDropzone } from "react-dropzone";
import { fileSize } from "../shared/format";
import { useSong } from "../shared/songStore";
import { ImportQuestion } from "./ImportQuestion";
import { importFiles, retryImport, stopImport, useImport, type ImportRow } from "./importStore";

const words: Record<ImportRow["state"], string> = {
  waiting: "waits",
  coming: "coming in",
  in: "in",
  refused: "left out",
  stopped: "stopped",
};

/** How far all files are, and how each of them fares. */
function ImportRows() {
  const id = useSong((s) => s.id);
  const { rows, busy } = useImport();
  const [opened, setOpened] = useState(false);
  const done = rows.reduce((n, r) => n + r.file.size * (r.state === "in" ? 1 : r.progress), 0);
  const total = rows.reduce((n, r) => n + r.file.size, 0);
  const failed = rows.filter((r) => r.state === "refused" || r.state === "stopped").length;
  // What came in well needs no look any more, and would push the table away.
  const folded = !busy && failed === 0 && !opened;
  return (
    <div className="import-rows">
      <header>
        <ProgressBar now={total ? (100 * done) / total : 0} aria-label="All files" />
        <span>
          {rows.filter((r) => r.state === "in").length} of {rows.length} in, {fileSize(done)} of{" "}
          {fileSize(total)}
        </span>
        {busy ? (
          <Button size="sm" variant="outline-secondary" onClick={stopImport}>
            Stop
          </Button>
        ) : (
          <>
            {failed > 0 && (
              <Button size="sm" variant="outline-secondary" onClick={() => retryImport(id)}>
                Try {failed} again
              </Button>
            )}
            <Button size="sm" variant="link" aria-expanded={!folded} onClick={() => setOpened(!opened)}>
              {folded ? "Show them" : "Fold"}
            </Button>
            <Button size="sm" variant="link" onClick={() => useImport.setState({ rows: [] })}>
              Clear
            </Button>
          </>
        )}
      </header>
      <ul hidden={folded}>
        {rows.map((r) => (
          <li key={r.id} className={r.state}>
            <span className="name">{r.file.name}</span>
            <ProgressBar now={100 * r.progress} aria-label={r.file.name} />
            <span className="state">{words[r.state]}</span>
            {r.message && <span className="message">{r.message}</span>}
          </li>
        ))}
      </ul>
    </div>
  );
}

/** Where files are dropped, and how each of them fares. */
export function ImportPanel({ empty }: { empty: boolean }) {
  const id = useSong((s) => s.id);
  const some = useImport((s) => s.rows.length > 0);
  const { getRootProps, getInputProps, isDragActive, open } = useDropzone({
    noClick: true,
    noKeyboard: true,
    onDrop: (files) => void importFiles(id, files),
  });
  return (
    <section
      {...getRootProps({ className: `import ${isDragActive ? "over" : ""} ${empty ? "empty" : ""}` })}
      aria-label="Bring in files"
    >
      <input {...getInputProps({ "aria-label": "Audio files" })} />
      <p>
        <FolderPlus aria-hidden /> Drop the folder or ZIP of mic files here: WAV, AIFF or FLAC, mono or
        stereo, all of one performance; a MIDI file brings its tempo map.
      </p>
      <Button size="sm" variant={empty ? "primary" : "outline-primary"} onClick={open}>
        Choose files
      </Button>
      <ImportQuestion />
      {some && <ImportRows />}
    </section>
  );
}

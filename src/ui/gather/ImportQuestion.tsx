"use client";
import { Alert, Button } from "react-bootstrap";
import { gigabytes } from "../shared/format";
import { useSong } from "../shared/songStore";
import { leaveFiles, takeFiles, useImport } from "./importStore";

/** Bytes of a decoded sample against one of 24 bits, as most recordings have. */
const decoded = 4 / 3;

/** What a long recording needs, before any of it is sent. */
export function ImportQuestion() {
  const { asked } = useImport();
  const id = useSong((s) => s.id);
  if (asked?.songId !== id) return null;
  const { files, bytes, room } = asked;
  const memory = decoded * bytes;
  const tight = room !== null && bytes > room.diskFree;
  const large = room !== null && memory > room.analysisMost;
  return (
    <Alert
      variant={tight || large ? "warning" : "info"}
      className="import-question"
      role="alertdialog"
      aria-label="Much to bring in"
    >
      <p>
        {files.length === 1 ? "1 file" : `${files.length} files`}, {gigabytes(bytes)}: the server needs as
        much room on its disk
        {room && `, where ${gigabytes(room.diskFree)} are free`}. The analysis holds them decoded in memory,
        about {gigabytes(memory)}
        {room && ` of ${gigabytes(room.memory)}`}.{tight && " They do not all fit on the disk."}
        {large &&
          " They do not fit into memory: the takes can be played and mixed, but not analysed; bring them in as songs of their own."}
      </p>
      <Button size="sm" onClick={takeFiles}>
        Bring them in
      </Button>{" "}
      <Button size="sm" variant="outline-secondary" onClick={leaveFiles}>
        Leave them
      </Button>
    </Alert>
  );
}

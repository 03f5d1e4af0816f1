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
  const meanwhile = decoded * bytes;
  const tight = room !== null && bytes > room.diskFree;
  const spooled = room !== null && meanwhile > room.analysisHeld;
  const large = spooled && !tight && bytes + meanwhile > room.diskFree;
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
        {room && `, where ${gigabytes(room.diskFree)} are free`}.
        {spooled &&
          ` While they are analysed they also lie there decoded, about ${gigabytes(meanwhile)}; that room is free again behind it.`}
        {tight && " They do not all fit on the disk."}
        {large &&
          " For that there is no room: they can be played and mixed, but not analysed before some is free, or as songs of their own."}
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

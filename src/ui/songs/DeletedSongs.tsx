import { Button } from "react-bootstrap";
import type { SongEntry } from "../../contract";

interface Props {
  readonly songs: readonly SongEntry[];
  readonly restore: (song: SongEntry) => void;
}

/** Songs that were deleted and can be brought back. */
export function DeletedSongs({ songs, restore }: Props) {
  if (songs.length === 0) return null;
  return (
    <details className="deleted">
      <summary>{songs.length} deleted, kept for 30 days</summary>
      <ul>
        {songs.map((song) => (
          <li key={song.id}>
            {song.title}{" "}
            <Button
              variant="link"
              size="sm"
              aria-label={`Bring ${song.title} back`}
              onClick={() => restore(song)}
            >
              bring back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}

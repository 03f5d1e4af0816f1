"use client";
import { Table } from "react-bootstrap";
import type { Delivery } from "../../core/deliver/delivery";
import { outputsOf, sizeOfOutputs, type Output } from "../../core/deliver/outputs";
import { isMic } from "../../core/song/graph";
import { pieceNames } from "../../core/song/pieceNames";
import type { Song } from "../../core/song/song";
import { clock, fileSize, placeNames } from "../shared/format";
import { useSong } from "../shared/songStore";
import { InFolder } from "./Files";

/** What a file will hold. */
function contentOf({ of, folder }: Output): string {
  if (!isMic(of)) return folder === "" ? "the kit, all buses together" : "bus after its fader";
  const place = of.place === "close" ? "" : ` ${placeNames[of.place]}`;
  return `${pieceNames[of.piece].toLowerCase()}${place} after its chain`;
}

interface Made {
  readonly outputs: readonly Output[];
  readonly told: string;
}

/** The files and how large they are together; null for names that cannot be used, which the form tells. */
function madeBy(song: Song, delivery: Delivery): Made | null {
  try {
    const outputs = outputsOf(song, delivery);
    const { seconds, bytes } = sizeOfOutputs(song, delivery);
    const size = bytes === null ? "" : `, ${fileSize(bytes)} together`;
    return { outputs, told: `${outputs.length} of ${clock(seconds)}${size}` };
  } catch {
    return null;
  }
}

/** What a render makes as it is asked for now, before it is made; folded behind the last one. */
export function NextRender({ delivery, folded }: { delivery: Delivery; folded: boolean }) {
  const song = useSong((s) => s.song!);
  const made = madeBy(song, delivery);
  if (!made) return null;
  return (
    <details className="next-render" open={!folded}>
      <summary>
        <h2>
          Files of the next render <small>{made.told}</small>
        </h2>
      </summary>
      <Table size="sm" className="mic-table" aria-label="Files of the next render">
        <tbody>
          {made.outputs.map((o) => (
            <tr key={o.id}>
              <td>
                <InFolder folder={o.folder} />
                {o.file}
              </td>
              <td>{contentOf(o)}</td>
              <td>{o.channels === 1 ? "mono" : "stereo"}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="hint">
        All begin at one frame and are of one length.
        {delivery.midi && " Beside them: strokes and tempo as MIDI, and layers with their sounds."} A page
        says what was done.
      </p>
    </details>
  );
}

"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { broadEq, mostBroad, putBroadEq } from "../../core/blend/broadEq";
import { putFinish, soughtFinishes, type Fitted, type SoughtFinish } from "../../core/blend/kitFinish";
import { kitOf, type Owner } from "../../core/song/graph";
import type { Operation } from "../../core/song/operations";
import type { ProcessorState, Song } from "../../core/song/song";
import { api } from "../shared/api";
import { allSaved, useSong } from "../shared/songStore";
import { busTrial } from "./busTrial";

/** What is put at the kit, what of it is to stand while its figures are told, and these. */
type Found = Fitted & { readonly operation: Operation };
interface Way {
  readonly id: string;
  readonly label: string;
  readonly type: string;
  readonly title: string;
  readonly fit: (song: Song, id: string) => Promise<Found>;
}

/** A processor whose values are sought over the strokes. */
const sought = (way: SoughtFinish, label: string, title: string): Way => ({
  id: way,
  label,
  title,
  type: soughtFinishes[way].type,
  fit: (song, id) => putFinish(song, way, (would, kit, state) => busTrial(would, id, kit, state)),
});

/** Four broad bands towards the reference record. */
async function fitToRecord(song: Song, id: string): Promise<Found> {
  const { kit, record } = await api.measureRecord(id, null);
  return putBroadEq(kitOf(song), broadEq(kit.bands, record.bands, song.sampleRate));
}

const ways: readonly Way[] = [
  sought("glue", "Glue", "A slow 2:1 that takes 1.5 dB at half of the strokes, fitted to this kit"),
  sought(
    "rounding",
    "Rounding",
    "Soft saturation as of tape, driven until the peaks of half of the strokes are 1 dB rounder",
  ),
  {
    id: "eq",
    label: "Broad EQ",
    type: "eq",
    fit: fitToRecord,
    title: `Four broad bands towards the tone of the reference record, each ${mostBroad} dB at most`,
  },
];

/** What stands at the end of a kit, each fitted to what comes into it, with what it does; one step each. */
export function KitFinish({ kit }: { kit: Owner }) {
  const analysed = useSong((s) => s.analysed);
  const record = useSong((s) => s.song!.referenceRecord);
  const [busy, setBusy] = useState<string | null>(null);
  const [found, setFound] = useState<Readonly<Record<string, Fitted>>>({});
  /** What was told of a way, as long as the kit has what was fitted. */
  const toldOf = ({ id, type }: Way): string | null => {
    const fitted = found[id];
    const has = (p: ProcessorState) =>
      p.type === type && p.on && Object.entries(fitted!.params).every(([n, v]) => p.params[n] === v);
    return fitted && kit.chain.some(has) ? fitted.told : null;
  };
  if (!analysed) return null;
  const fit = async ({ id, label, fit: way }: Way) => {
    setBusy(id);
    try {
      await allSaved();
      const { song, id: songId, change, tell } = useSong.getState();
      const fitted = await way(song!, songId);
      if (useSong.getState().song !== song)
        tell(`${label}: the song was changed meanwhile; nothing was set.`);
      else {
        change(`${label} of the kit`, fitted.operation);
        setFound({ ...found, [id]: fitted });
      }
    } catch (error) {
      useSong.getState().tell(`${label} could not be fitted: ${(error as Error).message}.`);
    }
    setBusy(null);
  };
  return (
    <section className="panel" aria-label="Finish of the kit">
      <header>
        <h3>Finish of the kit</h3>
      </header>
      <div className="buttons">
        {ways.map((w) => (
          <Button
            key={w.id}
            size="sm"
            variant="outline-primary"
            disabled={busy !== null || (w.id === "eq" && record === null)}
            title={w.id === "eq" && record === null ? `${w.title}; none is chosen under “Record”` : w.title}
            onClick={() => void fit(w)}
          >
            {busy === w.id ? `${w.label}: fitting …` : w.label}
          </Button>
        ))}
      </div>
      {ways.map(
        (w) =>
          toldOf(w) && (
            <p key={w.id} className="hint" data-testid={`finish-${w.id}`}>
              {w.label}: {toldOf(w)}.
            </p>
          ),
      )}
    </section>
  );
}

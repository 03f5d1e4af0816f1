"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { broadEq, mostBroad, putBroadEq } from "../../core/blend/broadEq";
import { fitGlue, fitRounding, glue, rounding, type Fitted } from "../../core/blend/kitFinish";
import type { Trial } from "../../core/blend/trial";
import { firstOf } from "../../core/song/create";
import { kitOf, type Owner } from "../../core/song/graph";
import { applyOperation, type Operation } from "../../core/song/operations";
import { putProcessor } from "../../core/song/putProcessor";
import type { ProcessorState, Song } from "../../core/song/song";
import { api } from "../shared/api";
import { allSaved, useSong } from "../shared/songStore";
import { busTrial } from "./busTrial";

/** A trial of what would stand at the kit. */
function trialAt(song: Song, id: string, type: string, params: Fitted["params"]): Trial {
  const would = applyOperation(song, putProcessor(kitOf(song), type, params, true)).song;
  const kit = kitOf(would);
  return busTrial(would, id, kit, firstOf(kit, type)!);
}

/** What is put at the kit, what of it is to stand while its figures are told, and these. */
interface Found extends Fitted {
  readonly operation: Operation;
}
interface Way {
  readonly id: string;
  readonly label: string;
  readonly type: string;
  readonly title: string;
  readonly fit: (song: Song, id: string) => Promise<Found>;
}

/** A processor whose values are sought over the strokes. */
const sought =
  (type: string, params: Fitted["params"], fit: (trial: Trial) => Promise<Fitted>): Way["fit"] =>
  async (song, id) => {
    const fitted = await fit(trialAt(song, id, type, params));
    return { ...fitted, operation: putProcessor(kitOf(song), type, fitted.params, true) };
  };

/** Four broad bands towards the reference record. */
async function fitToRecord(song: Song, id: string): Promise<Found> {
  const { kit, record } = await api.measureRecord(id, null);
  const found = broadEq(kit.bands, record.bands, song.sampleRate);
  if (!found) throw new Error("too little of the kit and the record can be compared");
  const told = `mean difference from the record by third octave ${found.before.toFixed(1)} dB, with it ${found.after.toFixed(1)} dB`;
  return { ...putBroadEq(kitOf(song), found), told };
}

const ways: readonly Way[] = [
  { id: "glue", label: "Glue", type: "compressor", fit: sought("compressor", glue, fitGlue), title: "A slow 2:1 that takes 1.5 dB at half of the strokes, fitted to this kit" },
  { id: "rounding", label: "Rounding", type: "saturation", fit: sought("saturation", rounding, fitRounding), title: "Soft saturation as of tape, driven until the peaks of half of the strokes are 1 dB rounder" },
  { id: "eq", label: "Broad EQ", type: "eq", fit: fitToRecord, title: `Four broad bands towards the tone of the reference record, each ${mostBroad} dB at most` },
]; // prettier-ignore

/** What stands at the end of a kit, each fitted to what comes into it, with what it does; one step each. */
export function KitFinish({ kit }: { kit: Owner }) {
  const analysed = useSong((s) => s.analysed);
  const record = useSong((s) => s.song!.referenceRecord);
  const [busy, setBusy] = useState<string | null>(null);
  const [found, setFound] = useState<Readonly<Record<string, Fitted>>>({});
  /** What was told of a way, as long as the kit has what was fitted. */
  const toldOf = ({ id, type }: Way): string | null => {
    const fitted = found[id];
    const has = (p: ProcessorState) => p.type === type && p.on && Object.entries(fitted!.params).every(([n, v]) => p.params[n] === v);
    return fitted && kit.chain.some(has) ? fitted.told : null;
  };
  if (!analysed) return null;
  const fit = async ({ id, label, fit: way }: Way) => {
    setBusy(id);
    try {
      await allSaved();
      const { song, id: songId, change, tell } = useSong.getState();
      const fitted = await way(song!, songId);
      if (useSong.getState().song !== song) tell(`${label}: the song was changed meanwhile; nothing was set.`);
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
          <Button key={w.id} size="sm" variant="outline-primary" disabled={busy !== null || (w.id === "eq" && record === null)} title={w.id === "eq" && record === null ? `${w.title}; none is chosen under “Record”` : w.title} onClick={() => void fit(w)}>
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
} // prettier-ignore

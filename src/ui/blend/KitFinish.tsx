"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { glue, gluedBy, roundedBy, rounding, soughtDrive } from "../../core/blend/kitFinish";
import { strokesIn } from "../../core/shape/heardDrums";
import { firstOf } from "../../core/song/create";
import { kitOf, type Owner } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import { putProcessor } from "../../core/song/putProcessor";
import type { ProcessorState, Song } from "../../core/song/song";
import { inputOf } from "../shared/chainInput";
import { askEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { medianOr } from "../shared/medianOr";
import { allSaved, useSong } from "../shared/songStore";

type Params = ProcessorState["params"];
/** What is set, and what it does, in words. */
interface Fitted {
  readonly params: Params;
  readonly told: string;
}
const tenth = (v: number): number => Math.round(10 * v) / 10;

/** A processor at the kit as it would be, what comes into it, and what it does there. */
function trial(song: Song, id: string, type: string, params: Params) {
  const kit = kitOf(song);
  const would = applyOperation(song, putProcessor(kit, type, params, true)).song;
  const state = kitOf(would).chain.find((p) => p.type === type)!;
  const { input } = inputOf(would, id, kitOf(would), state.id);
  const { mains } = strokesIn(song, kit);
  const effect = async (more: Params) => {
    const processor = { ...state, params: { ...state.params, ...more } };
    const found = await askEvidence("effect", { input, processor, mains, ring: null });
    const louder = found.loudnessAfter.whole - found.loudnessBefore.whole;
    const peaks = medianOr(found.peakAfter.map((p, i) => p - found.peakBefore[i]!), 0);
    return { louder, peaks };
  };
  return { state, input, mains, effect };
} // prettier-ignore

/** Glue whose threshold gives half of the strokes the reduction, as loud as before. */
async function fitGlue(song: Song, id: string): Promise<Fitted> {
  const { state, input, mains, effect } = trial(song, id, "compressor", { ...glue, makeup: 0 });
  const { threshold } = await askEvidence("fit", { input, processor: state, level: "threshold", mains, wishedDb: gluedBy });
  const { louder, peaks } = await effect({ threshold });
  const makeup = tenth(Math.max(0, -louder));
  return { params: { ...glue, threshold, makeup }, told: `${gluedBy} dB at half of the strokes, peaks ${signed(peaks + makeup, 1)} dB, as loud as before` };
} // prettier-ignore

/** Rounding whose drive takes the peaks down, as loud as before. */
async function fitRounding(song: Song, id: string): Promise<Fitted> {
  const { effect } = trial(song, id, "saturation", { ...rounding, output: 0 });
  const drive = await soughtDrive(async (tried) => {
    const { louder, peaks } = await effect({ drive: tried });
    return louder - peaks;
  }, roundedBy);
  const { louder, peaks } = await effect({ drive });
  const output = tenth(Math.max(-36, Math.min(12, -louder)));
  return { params: { ...rounding, drive, output }, told: `drive ${signed(drive, 1)} dB, peaks of half of the strokes ${signed(peaks - louder, 1)} dB, as loud as before` };
} // prettier-ignore

const ways = [
  { id: "glue", label: "Glue", type: "compressor", fit: fitGlue, title: "A slow 2:1 that takes 1.5 dB at half of the strokes, fitted to this kit" },
  { id: "rounding", label: "Rounding", type: "saturation", fit: fitRounding, title: "Soft saturation as of tape, driven until the peaks of half of the strokes are 1 dB rounder" },
] as const; // prettier-ignore

/** What stands at the end of a kit, each fitted to what comes into it, with what it does; one step each. */
export function KitFinish({ kit }: { kit: Owner }) {
  const analysed = useSong((s) => s.analysed);
  const [busy, setBusy] = useState<string | null>(null);
  const [found, setFound] = useState<Readonly<Record<string, Fitted>>>({});
  /** What was told of a way, as long as the kit has what was fitted. */
  const toldOf = ({ id, type }: (typeof ways)[number]): string | null => {
    const [fitted, there] = [found[id], firstOf(kit, type)];
    const stands = fitted && there?.on && Object.entries(fitted.params).every(([n, v]) => there.params[n] === v);
    return stands ? fitted.told : null;
  };
  if (!analysed) return null;
  const fit = async ({ id, label, type, fit: way }: (typeof ways)[number]) => {
    setBusy(id);
    try {
      await allSaved();
      const { song, id: songId, change, tell } = useSong.getState();
      const fitted = await way(song!, songId);
      if (useSong.getState().song !== song) tell(`${label}: the song was changed meanwhile; nothing was set.`);
      else {
        change(`${label} of the kit`, putProcessor(kit, type, fitted.params, true));
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
          <Button key={w.id} size="sm" variant="outline-primary" disabled={busy !== null} title={w.title} onClick={() => void fit(w)}>
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

import type { Facts } from "../facts/facts";
import type { Proposal } from "../song/proposal";
import { firstOf, processorOf } from "../song/create";
import type { Operation } from "../song/operations";
import { isShell, type Mic, type Song } from "../song/song";
import { gateBehindCancel, plainGate, type GateChoice } from "./gates";
import { proposeRests } from "./proposeRests";
import type { Treatment } from "../facts/treatment";
import { othersHeard, setTreatment } from "./treatments";

const ms = (s: number) => `${Math.round(1000 * s)} ms`;
const level = (db: number) => `${db >= 0 ? "+" : "−"}${Math.abs(db).toFixed(1)} dBFS`;

/** What is told of a gate alone. */
function gateSentence(m: Mic, gate: GateChoice, strokes: number, ghosts: number): string {
  const { hold, measured, threshold, falseOpens } = gate;
  const open = `open for ${ms(hold)}${measured ? ", when its tail sinks to the bleed" : ""}`;
  const times = falseOpens === 1 ? "once" : `${falseOpens} times`;
  return `Gate ${m.file} by its ${strokes} strokes${ghosts > 0 ? ", ghost notes too" : ""}, ${open}; a level of ${level(threshold)} would open it ${times} by mistake.`;
}

function cancelSentence(m: Mic, others: number, gate: GateChoice | null, strokes: number): string {
  const rest = gate
    ? `a gate opened by its ${strokes} strokes for ${ms(gate.hold)} takes ${gate.range} dB of what is left between them`
    : "no gate, so that ghost notes and tails stay whole";
  return `Cancel what ${others === 1 ? "1 other drum leaves" : `${others} other drums leave`} in ${m.file}, its own strokes spared; ${rest}.`;
}

/**
 * How every close mic of a shell is best cleaned: its bleed cancelled, and a gate behind that where the gaps shall be
 * quieter still; a gate alone where it is not known how the mic hears the others.
 */
export function proposeClean(song: Song, facts: Facts): Proposal[] {
  return [...proposeShells(song, facts), ...proposePans(song, facts), ...proposeRests(song)];
}

/** Pans less apart than this are the same, %. */
const samePan = 5;
const side = (pan: number): string =>
  pan === 0 ? "the middle" : `${Math.abs(pan)} % ${pan < 0 ? "left" : "right"}`;

/** Cymbals' own mics are brought where the overheads put the cymbal, so that it stays in one place. */
function proposePans(song: Song, facts: Facts): Proposal[] {
  return song.mics.flatMap((m): Proposal[] => {
    const pan = facts.pans[m.id];
    const now = processorOf(m, "pan");
    if (pan === undefined || m.silent || m.unplayed) return [];
    const away = Math.abs((now.params["position"] as number) - pan);
    if (away > 0 && away < samePan) return [];
    return [
      {
        id: `pan:${m.id}`,
        step: "clean",
        owner: m.id,
        sentence: `Pan ${m.file} to ${side(pan)}, where the overheads put the ${m.piece}.`,
        figure: side(pan),
        operation: { op: "setProcessor", owner: m.id, processor: now.id, params: { position: pan } },
      },
    ];
  });
}

function proposeShells(song: Song, facts: Facts): Proposal[] {
  return song.mics.flatMap((m): Proposal[] => {
    const levels = facts.levels[m.id];
    const alone = plainGate(facts, m);
    if (m.silent || m.unplayed || !isShell(m.piece) || !levels || !alone) return [];
    const strokes = levels.hits.length + levels.ghosts.length;
    const others = othersHeard(song, m);
    const judged = others > 0 ? facts.cleaning[m.id]?.way : undefined;
    if (judged === "none") return [];
    const gate = others === 0 ? alone : judged === "cancelled" ? null : gateBehindCancel(facts, m);
    const way: Treatment = { id: "cancel", cancel: others > 0, gate: gate?.params ?? null, dynamicEq: null };
    return [
      {
        id: `clean:${m.id}`,
        step: "clean",
        owner: m.id,
        sentence:
          others > 0
            ? cancelSentence(m, others, gate, strokes)
            : gateSentence(m, alone, strokes, levels.ghosts.length),
        figure:
          others > 0
            ? gate
              ? `cancel, gate −${gate.range} dB`
              : "cancel"
            : `−${alone.range} dB when closed`,
        operation: proposed(m, way),
      },
    ];
  });
}

/** Leaves alone what a proposal says nothing of: the dynamic EQ. */
function proposed(m: Mic, way: Treatment): Operation {
  const eq = firstOf(m, "dynamicEq")?.id;
  return {
    op: "several",
    operations: setTreatment(m, way).filter((o) => o.op !== "setProcessor" || o.processor !== eq),
  };
}

"use client";
import { useRef } from "react";
import { Button } from "react-bootstrap";
import { ChevronDown, ChevronRight } from "react-bootstrap-icons";
import { create } from "zustand";
import { number } from "../../core/params";
import { untouched } from "../../core/shape/quick/quickBasis";
import { louderTogether, quickReach } from "../../core/shape/quick/quickRules";
import { fundamentalOf } from "../../core/shape/quick/quickSong";
import { giveBack, isQuick, ownParts, turnQuick, withoutQuick } from "../../core/shape/quick/turnQuick";
import { partsOf } from "../../core/song/chain";
import { ownerOf, type Owner } from "../../core/song/graph";
import { applyOperation } from "../../core/song/operations";
import { limits } from "../../core/song/limits";
import { quickControls, type QuickBasis, type QuickControl, type QuickValues } from "../../core/song/song";
import { inputBehind } from "../shared/chainInput";
import { askEvidence, useEvidence } from "../shared/evidenceClient";
import { signed } from "../shared/format";
import { ParamField } from "../shared/ParamField";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { strokesIn } from "../../core/shape/heardDrums";

const specs = {
  weight: number(
    "Weight",
    "",
    -100,
    100,
    0,
    `A bell at the drum's fundamental: ${quickReach.weight} dB at 100.`,
  ),
  stick: number(
    "Stick",
    "",
    -100,
    100,
    0,
    `A bell where the stick is, ${quickReach.stick} dB at 100, and the attack of every stroke, ${quickReach.attack} dB.`,
  ),
  air: number("Air", "", -100, 100, 0, `A high shelf: ${quickReach.air} dB at 100.`),
  density: number(
    "Density",
    "",
    -100,
    100,
    0,
    "Compression by the strokes' own crest; under 0 their tails go down.",
  ),
} as const;
const hertz = (f: number): string => (f < 1000 ? `${f.toFixed(0)} Hz` : `${(f / 1000).toFixed(1)} kHz`);

/** Strokes of a mic or bus as they come into its quick controls, and what places the controls by them. */
function usePlaced(owner: Owner): {
  ask: QuickAsk;
  basis: QuickBasis | null;
  busy: boolean;
  error: string | null;
} {
  const song = useSong((s) => s.song!);
  const id = useSong((s) => s.id);
  const facts = useSong((s) => s.facts);
  const first = owner.chain.findIndex((p) => isQuick(owner, p.id));
  const { last } = partsOf(owner.chain);
  const before = owner.chain.slice(0, first < 0 ? owner.chain.length - last.length : first);
  const { input, key } = inputBehind(song, id, owner, before);
  const { mains } = strokesIn(song, owner);
  const fundamental = fundamentalOf(song, facts, owner);
  const asked = mains.length > 0 ? { input, mains, piece: owner.piece, fundamental } : null;
  const { value, busy, error } = useEvidence("quick", JSON.stringify([key, fundamental]), asked);
  return { ask: { input, mains }, basis: value, busy, error };
}
type QuickAsk = Pick<Parameters<typeof askEvidence<"quick">>[1], "input" | "mains">;

/** Whether the quick controls are open: the strokes are measured for them only then. */
const useOpen = create<{ open: boolean }>()(() => ({ open: false }));

/** Four controls that each drive what is usual of a chain, placed by the strokes; what they make stands in the chain as real processors. */
export function QuickControls({ owner }: { owner: Owner }) {
  const open = useOpen((s) => s.open);
  const state = useSong((s) => s.song!.quick[owner.id]);
  const name = ownerName(owner);
  const turned = quickControls.filter((c) => state && state.values[c] !== 0);
  return (
    <section className="panel quick" aria-label={`Quick controls of ${name}`}>
      <button
        type="button"
        className="more"
        aria-expanded={open}
        title="Each drives real processors at the end of the chain, which may be opened and set like any other"
        onClick={() => useOpen.setState({ open: !open })}
      >
        {open ? <ChevronDown aria-hidden /> : <ChevronRight aria-hidden />} Quick controls
        {!open && turned.map((c) => ` ${c} ${signed(state!.values[c], 0)}`)}
      </button>
      {open && <Controls owner={owner} />}
    </section>
  );
}

/** Turns a control: previewed at once, and stored as one step when it rests, its level matched by what was measured. */
function useTurn(owner: Owner, { ask, basis }: Pick<ReturnType<typeof usePlaced>, "ask" | "basis">) {
  const song = useSong((s) => s.song!);
  const { change, preview, tell } = useSong.getState();
  /** True while what is previewed brings the processors in: they are stored as one step with what the gesture ends at. */
  const comesIn = useRef(false);
  /** Counts what was turned: the last one is stored. */
  const turned = useRef(0);
  const state = song.quick[owner.id];

  const store = (control: QuickControl, next: QuickValues, louder: number): void => {
    const { song: now } = useSong.getState();
    const here = now && ownerOf(now, owner.id);
    if (!here || !basis) return;
    const from = comesIn.current ? applyOperation(now, withoutQuick(now, here)).song : now;
    comesIn.current = false;
    change(
      `${specs[control].label} of ${ownerName(owner)}`,
      turnQuick(from, ownerOf(from, owner.id)!, { values: next, basis, louder }),
    );
  };
  return (control: QuickControl, value: number, done: boolean): void => {
    if (!basis) return;
    const next = { ...(state?.values ?? untouched), [control]: value };
    const louder = louderTogether(next, basis);
    if (!state) comesIn.current = true;
    preview(turnQuick(song, owner, { values: next, basis, louder }));
    const mine = ++turned.current;
    if (!done) return;
    // What they do together is measured once they rest, and told with the same step.
    askEvidence("quickLouder", { ...ask, values: next, basis })
      .catch((failed: Error) => {
        tell(`The level was matched by each control alone: ${failed.message}.`);
        return louder;
      })
      .then((measured) => mine === turned.current && store(control, next, measured));
  };
}

/** Parts of the chain that were set by hand since, each given back by a press. */
function OwnParts({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  const own = ownParts(song, owner);
  if (own.length === 0) return null;
  return (
    <p className="own-parts">
      Yours by now:{" "}
      {own.map((part) => (
        <Button
          key={part}
          size="sm"
          variant="link"
          title="It was set in the chain and stays so; a press gives it back to the control"
          onClick={() =>
            useSong
              .getState()
              .change(`${part} of ${ownerName(owner)} by its control`, giveBack(song, owner, part))
          }
        >
          {part} ↺
        </Button>
      ))}
    </p>
  );
}

/** By what the controls are placed, or why they cannot be. */
function placedTold(
  { basis, busy, error }: ReturnType<typeof usePlaced>,
  full: number | null,
  louder: number | undefined,
): string {
  if (error) return `The strokes could not be measured: ${error}.`;
  if (full !== null) return `The chain holds ${full} processors; three more do not fit.`;
  if (!basis)
    return busy ? "listening to the strokes …" : "No main stroke is known, by which they could be placed.";
  const { strokes, fundamental, stick } = basis;
  const matched = louder === undefined ? "" : `; level matched by ${signed(-louder, 1)} dB`;
  return `by ${strokes} strokes: ${hertz(fundamental)}, stick ${hertz(stick)}${matched}`;
}

function Controls({ owner }: { owner: Owner }) {
  const song = useSong((s) => s.song!);
  const placed = usePlaced(owner);
  const turn = useTurn(owner, placed);
  const state = song.quick[owner.id];
  const { free } = partsOf(owner.chain);
  const full = !state && free.length + 3 > limits.processors;
  return (
    <>
      {quickControls.map((c) => (
        <ParamField
          key={c}
          spec={specs[c]}
          value={(state?.values ?? untouched)[c]}
          sampleRate={song.sampleRate}
          disabled={!placed.basis || full}
          onChange={(value, done) => turn(c, Math.round(value as number), done)}
        />
      ))}
      <OwnParts owner={owner} />
      {state && (
        <Button
          size="sm"
          variant="link"
          className="take-quick"
          onClick={() =>
            useSong.getState().change(`Quick controls of ${ownerName(owner)} out`, withoutQuick(song, owner))
          }
        >
          Take out
        </Button>
      )}
      <p className="quiet" data-testid="quick-basis">
        {placedTold(placed, full ? free.length : null, state?.louder)}
      </p>
    </>
  );
}

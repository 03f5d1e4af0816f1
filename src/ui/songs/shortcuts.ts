import { steps } from "../../core/song/song";
import { flipMic, nudgeMic, nudges } from "../align/moves";
import { rideBus } from "../blend/ride";
import { toggleCompare, toggleDifference } from "../compare/compareStore";
import { listenWays, toggleWay } from "../compare/ListenMenu";
import { toggleHelp } from "../help/helpStore";
import { pieceNames } from "../../core/song/pieceNames";
import { hearAlone } from "../shared/hear";
import { playback, usePlayback } from "../shared/playback";
import { useSong } from "../shared/songStore";
import { jumpToHit, playStrokes, playStrokesAlone, toggleLoop } from "../songLine/actions";

export interface Shortcut {
  readonly keys: string;
  readonly does: string;
  /** True when the event is this shortcut. */
  readonly fits: (event: KeyboardEvent) => boolean;
  readonly act: (event: KeyboardEvent) => void;
}

const plain = (key: string) => (e: KeyboardEvent) =>
  e.key.toLowerCase() === key && !e.ctrlKey && !e.metaKey && !e.altKey;
const withControl = (key: string, shift: boolean) => (e: KeyboardEvent) =>
  e.key.toLowerCase() === key && (e.ctrlKey || e.metaKey) && e.shiftKey === shift;

/** True while the step is Align, to which some keys belong. */
const aligning = (): boolean => useSong.getState().step === "align";

function switchMic(what: "muted" | "soloed"): void {
  const { song, mic, change } = useSong.getState();
  const found = song?.mics.find((m) => m.id === mic);
  if (!found) return;
  change(`${what === "muted" ? "Mute" : "Solo"} ${found.file}`, {
    op: "setMic",
    mic: found.id,
    values: { [what]: !found[what] },
  });
}

/** Solos all mics of the chosen drum, or takes that back. */
function soloDrum(): void {
  const { song, piece, change } = useSong.getState();
  const mics = song?.mics.filter((m) => m.piece === piece) ?? [];
  if (mics.length === 0) return;
  const soloed = !mics.every((m) => m.soloed);
  change(`Solo ${pieceNames[mics[0]!.piece]}`, {
    op: "several",
    operations: mics.map((m) => ({ op: "setMic", mic: m.id, values: { soloed } })),
  });
}

/** Every shortcut, once: the sheet and the keyboard both come from here. */
export const shortcuts: readonly Shortcut[] = [
  {
    keys: "Alt ↑ ↓",
    does: "Ride the chosen bus by 1 dB (Blend)",
    fits: (e) =>
      e.altKey && (e.key === "ArrowUp" || e.key === "ArrowDown") && useSong.getState().step === "blend",
    act: (e) => void rideBus(e.key === "ArrowUp" ? 1 : -1),
  },
  { keys: "Space", does: "Play or stop", fits: plain(" "), act: () => playback.toggle() },
  { keys: "Home", does: "Playhead to the start", fits: plain("home"), act: () => playback.seek(0) },
  {
    keys: "→  ←",
    does: "Just before the next or last stroke of the chosen drum",
    fits: (e) => plain("arrowright")(e) || plain("arrowleft")(e),
    act: (e) => jumpToHit(e.key === "ArrowRight" ? 1 : -1),
  },
  { keys: "L", does: "Loop on or off", fits: plain("l"), act: toggleLoop },
  {
    keys: "J",
    does: "Only the strokes of the chosen drum, one after another, in the kit",
    fits: (e) => plain("j")(e) && !e.shiftKey,
    act: playStrokes,
  },
  {
    keys: "Shift J",
    does: "The same with the chosen drum alone",
    fits: (e) => plain("j")(e) && e.shiftKey,
    act: playStrokesAlone,
  },
  {
    keys: "G",
    does: "Click on every beat",
    fits: plain("g"),
    act: () => playback.setClick(!usePlayback.getState().click),
  },
  {
    keys: "H",
    does: "Half speed",
    fits: plain("h"),
    act: () => playback.setHalf(!usePlayback.getState().half),
  },
  ...listenWays
    .filter((w) => w.key)
    .map((w) => ({
      keys: w.key,
      does: `Listen: ${w.label.toLowerCase()}`,
      fits: plain(w.key.toLowerCase()),
      act: () => toggleWay(w.setting),
    })),
  { keys: "D", does: "Compare: only the difference", fits: plain("d"), act: toggleDifference },
  { keys: "C", does: "Compare: with or without", fits: plain("c"), act: toggleCompare },
  {
    keys: "S",
    does: "Solo the chosen mic",
    fits: (e) => plain("s")(e) && !e.shiftKey,
    act: () => switchMic("soloed"),
  },
  {
    keys: "Shift S",
    does: "Solo the chosen drum, all its mics; rooms and parallel paths stay with it",
    fits: (e) => plain("s")(e) && e.shiftKey,
    act: soloDrum,
  },
  {
    keys: "A",
    does: "Hear the chosen mic alone for some seconds, whatever it is",
    fits: plain("a"),
    act: () => hearAlone(useSong.getState().mic),
  },
  { keys: "M", does: "Mute the chosen mic", fits: plain("m"), act: () => switchMic("muted") },
  {
    keys: "P",
    does: "Align: turn the chosen mic over",
    fits: (e) => plain("p")(e) && aligning(),
    act: flipMic,
  },
  ...nudges.map((n, i) => ({
    keys: n.keys,
    does: `Align: move the chosen mic by ${n.does}, earlier or later`,
    fits: (e: KeyboardEvent) =>
      (e.code === "Comma" || e.code === "Period") &&
      e.shiftKey === (i === 1) &&
      e.altKey === (i === 2) &&
      !e.ctrlKey &&
      !e.metaKey &&
      aligning(),
    act: (e: KeyboardEvent) => nudgeMic((e.code === "Comma" ? -1 : 1) * n.frames()),
  })),
  {
    keys: "1 … 7",
    does: "Go to a step",
    fits: (e) => /^[1-7]$/.test(e.key) && !e.ctrlKey && !e.metaKey && !e.altKey,
    act: (e) => useSong.getState().chooseStep(steps[Number(e.key) - 1]!),
  },
  {
    keys: "K",
    does: "The whole kit on the bench",
    fits: plain("k"),
    act: () => useSong.getState().choosePiece(null),
  },
  { keys: "F1", does: "Help to this step and its figures", fits: (e) => e.key === "F1", act: toggleHelp },
  {
    keys: "Ctrl Z",
    does: "Undo",
    fits: withControl("z", false),
    act: () => void useSong.getState().history("undo"),
  },
  {
    keys: "Ctrl Shift Z",
    does: "Redo",
    fits: withControl("z", true),
    act: () => void useSong.getState().history("redo"),
  },
];

import { dbToPower } from "../signal/level";
import type { Facts } from "../facts/facts";
import type { Operation } from "../song/operations";
import type { Proposal } from "../song/proposal";
import { both, signed } from "../song/proposalWords";
import { pieceNames } from "../song/pieceNames";
import { mainMic, type Mic, type Piece, type Song } from "../song/song";
import { balanceOf, type Balance } from "./balance";

/** What a drum is called within a sentence: numbered ones by their name, the others with an article. */
const nameOf = (piece: Piece): string => {
  const name = pieceNames[piece].toLowerCase();
  return /\d/.test(name) ? name : `the ${name}`;
};

/** What is done with a drum, in words. */
function drumWords({ drums, against }: Balance, piece: Piece, mics: number): string {
  const of = (p: Piece) => drums.find((d) => d.piece === p)!;
  const found = of(piece);
  const apart = Math.round(found.loudness - of(against).loudness);
  const beside =
    apart === 0
      ? `as loud as ${nameOf(against)}`
      : `to ${Math.abs(apart)} dB ${apart < 0 ? "under" : "over"} ${nameOf(against)}`;
  const set =
    piece === against
      ? `Leave ${nameOf(piece)} where it is, ${mics > 1 ? "its second mics under the main one" : "and set the others against it"}`
      : `Set ${nameOf(piece)} ${beside}, over its strokes`;
  const share = Math.round(100 * dbToPower(found.far - found.loudness));
  return share < 5 ? `${set}.` : `${set}; ${share} % of its power lies in the far mics.`;
}

/** Faders of mics as operations; those that stand there already are left out. */
const moved = (mics: readonly Mic[], { faders }: Balance): Operation[] =>
  mics.flatMap((m) =>
    faders[m.id] === undefined || faders[m.id] === m.level
      ? []
      : [{ op: "setMic" as const, mic: m.id, values: { level: faders[m.id]! } }],
  );

/** Where the faders are put; which is which is told where there are several. */
function figureOf(mics: readonly Mic[], { faders }: Balance): string {
  const placed = mics.map((m) => ({ place: m.place, db: faders[m.id]! }));
  const same = placed.every(({ db }) => db === placed[0]!.db);
  const told = same ? [signed(placed[0]!.db)] : placed.map(({ place, db }) => `${place} ${signed(db)}`);
  return `${told.join(", ")} dB`;
}

/** The balance of the kit: faders of every drum's mics, of the overheads and the rooms, each to be taken by itself. */
export function proposeBalance(song: Song, facts: Facts): Proposal[] {
  const balance = balanceOf(song, facts);
  if (!balance) return [];
  const proposal = (id: string, owner: string, mics: readonly Mic[], sentence: string): Proposal[] =>
    mics.length === 0
      ? []
      : [
          {
            id: `balance:${id}`,
            step: "blend",
            owner,
            sentence,
            figure: figureOf(mics, balance),
            operation: both(...moved(mics, balance)),
          },
        ];
  const set = (of: (m: Mic) => boolean) =>
    song.mics.filter((m) => balance.faders[m.id] !== undefined && of(m));
  const drums = balance.drums.flatMap(({ piece }) => {
    const main = mainMic(song.mics, piece);
    const mics = set((m) => m.piece === piece);
    return main ? proposal(piece, main.id, mics, drumWords(balance, piece, mics.length)) : [];
  });
  const overheads = set((m) => m.piece === "overhead");
  const rooms = set((m) => m.piece === "room");
  return [
    ...drums,
    ...proposal(
      "overheads",
      overheads[0]?.id ?? "",
      overheads,
      "Bring in the overheads for the cymbals, both sides with the snare in the middle; the shells are left to their own mics.",
    ),
    ...proposal("rooms", rooms[0]?.id ?? "", rooms, "Bring in the rooms behind the shells."),
  ];
}

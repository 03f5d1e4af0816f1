"use client";
import { useState } from "react";
import { Button } from "react-bootstrap";
import { CheckLg, ChevronDown, ChevronRight } from "react-bootstrap-icons";
import type { ShapedDrum } from "../../core/facts/shapedDrum";
import { isDecided, isTaken } from "../../core/proposals/decided";
import { takeTogether } from "../../core/proposals/takeTogether";
import { strokeTimesMs } from "../../core/shape/shapeDrum";
import { inKitOrder } from "../../core/song/kitOrder";
import { aboutOf, type Proposal } from "../../core/song/proposal";
import { flavourOf, type Mic } from "../../core/song/song";
import { shortName } from "../shared/format";
import { colorOf } from "../shared/owners";
import { ProposalCard, ProposalTable } from "../shared/ProposalCard";
import { useSong } from "../shared/songStore";

/** Size of the picture of a stroke, and the levels that it shows below the loudest, dB. */
const picture = { width: 124, height: 40, range: 42 };

const pathOf = (levels: readonly number[], top: number): string => {
  const [from, to] = [strokeTimesMs[0]!, strokeTimesMs[strokeTimesMs.length - 1]!];
  const point = (db: number, i: number): string => {
    const x = (picture.width * (strokeTimesMs[i]! - from)) / (to - from);
    const share = Math.min(1, (top - db) / picture.range);
    return `${x.toFixed(1)},${(1 + (picture.height - 2) * Math.max(0, share)).toFixed(1)}`;
  };
  return levels.map(point).join(" ");
};
const loudest = (levels: readonly number[]): string =>
  Math.max(...levels)
    .toFixed(1)
    .replace("-", "−");

/** The average stroke of a mic as it comes in and as its proposals leave it. */
function StrokePicture({ mic, stroke }: { mic: Mic; stroke: ShapedDrum["stroke"] }) {
  const says = `Average stroke of ${shortName(mic.file)}: loudest ${loudest(stroke.before)} dBFS before, ${loudest(stroke.after)} behind`;
  const top = Math.max(...stroke.before, ...stroke.after);
  return (
    <svg
      role="img"
      aria-label={says}
      width={picture.width}
      height={picture.height}
      className="stroke-picture"
    >
      <title>{says}</title>
      <polyline points={pathOf(stroke.before, top)} className="before" />
      <polyline points={pathOf(stroke.after, top)} style={{ stroke: `var(--${colorOf(mic)})` }} />
    </svg>
  );
}

const columns = { eq: "EQ", compressor: "Compressor", saturation: "Peaks, and more" } as const;

interface RowProps {
  readonly mic: Mic;
  readonly proposals: readonly Proposal[];
}

/** What the proposals of a kind change, as it was measured. */
function Figure({ proposals, type }: Pick<RowProps, "proposals"> & { type: string }) {
  const song = useSong((s) => s.song!);
  const p = proposals.find((x) => aboutOf(x) === type);
  if (!p) return <span className="quiet">–</span>;
  const stands = isTaken(song, p) ? "" : song.refused.includes(p.id) ? "refused" : "open";
  return (
    <span className={stands} title={p.sentence}>
      {p.figure}
    </span>
  );
}

/** Takes what is not decided of a mic's proposals; or says that all is. */
function Decide({ mic, proposals }: RowProps) {
  const song = useSong((s) => s.song!);
  const waiting = proposals.filter((p) => !isDecided(song, p));
  const name = shortName(mic.file);
  if (waiting.length === 0)
    return (
      <span className="in-force">
        <CheckLg aria-hidden /> {proposals.every((p) => isTaken(song, p)) ? "taken" : "decided"}
      </span>
    );
  const take = () =>
    useSong.getState().change(`Shape ${name}: take ${waiting.length} proposals`, {
      op: "several",
      operations: takeTogether(song, waiting),
    });
  return (
    <Button size="sm" aria-label={`Take ${waiting.length} for ${name}`} onClick={take}>
      Take {waiting.length}
    </Button>
  );
}

/** One mic: its average stroke, what each proposal changes as it was measured; the sentences on demand. */
function Row({ mic, proposals }: RowProps) {
  const shaping = useSong((s) => s.song!.shaping);
  const shaped = useSong((s) => s.facts.shapes[mic.id]?.[flavourOf(shaping, mic.piece)]);
  const [open, setOpen] = useState(false);
  const name = shortName(mic.file);
  const toneStays = mic.piece === "snare" && mic.reference !== null;
  const others = proposals.filter((p) => !(aboutOf(p) in columns));
  return (
    <>
      <tr>
        <th scope="row">
          <button
            type="button"
            className="more"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            title="Why, in words"
          >
            {open ? <ChevronDown aria-hidden /> : <ChevronRight aria-hidden />} {name}
          </button>
        </th>
        <td>
          {shaped && !toneStays && (
            <button
              type="button"
              className="to-bench"
              title={`${name} on the bench`}
              onClick={() => useSong.getState().chooseMic(mic.id)}
            >
              <StrokePicture mic={mic} stroke={shaped.stroke} />
            </button>
          )}
        </td>
        {Object.keys(columns).map((type) => (
          <td key={type}>
            <Figure proposals={proposals} type={type} />
            {type === "saturation" &&
              others.map((p) => (
                <span key={p.id} className="also" title={p.sentence}>
                  {p.figure}
                </span>
              ))}
          </td>
        ))}
        <td>
          <Decide mic={mic} proposals={proposals} />
        </td>
      </tr>
      {open && (
        <tr>
          <td colSpan={6} className="proposals">
            {proposals.map((p) => (
              <ProposalCard key={p.id} proposal={p} />
            ))}
          </td>
        </tr>
      )}
    </>
  );
}

/** Shape of the whole kit, a mic a row: average stroke before and after, and what each proposal changes. */
export function KitTable({ proposals }: { proposals: readonly Proposal[] }) {
  const song = useSong((s) => s.song!);
  const mics = inKitOrder(song.mics.filter((m) => proposals.some((p) => p.owner === m.id)));
  if (mics.length === 0) return null;
  return (
    <ProposalTable title="Shape the whole kit" proposals={proposals}>
      <table className="kit-table">
        <thead>
          <tr>
            <th scope="col">Mic</th>
            <th
              scope="col"
              title="200 ms of the average stroke, 42 dB below its loudest: dashed as it comes in, coloured behind the proposals"
            >
              Average stroke
            </th>
            {Object.entries(columns).map(([type, label]) => (
              <th key={type} scope="col">
                {label}
              </th>
            ))}
            <th scope="col">
              <span className="visually-hidden">Decide</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {mics.map((m) => (
            <Row key={m.id} mic={m} proposals={proposals.filter((p) => p.owner === m.id)} />
          ))}
        </tbody>
      </table>
    </ProposalTable>
  );
}

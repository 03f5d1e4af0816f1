"use client";
import { Form } from "react-bootstrap";
import { isChoice } from "../../core/params";
import { processorType } from "../../core/processors";
import { knownDrum, retuned, retunings, type Retuning } from "../../core/shape/tuning/retune";
import { ownerOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { withUnit } from "../shared/format";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";

/** One value that fits the other drum, with a name by which it is refused. */
export interface RetuneLine extends Retuning {
  readonly key: string;
  readonly owner: string;
  /** Its processor is on, and its value matters as it is set. */
  readonly works: boolean;
}

const works = (p: ProcessorState, name: string): boolean =>
  p.on && !processorType(p.type).idle(p.params).includes(name);

/** What of a copied chain fits each target better otherwise; nothing where it is not known from which drum it comes. */
export function useRetuneLines(
  source: string | null,
  targets: readonly Owner[],
  copied: readonly ProcessorState[],
): RetuneLine[] {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const from = ownerOf(song, source);
  if (!from) return [];
  return targets
    .filter((to) => to.id !== from.id)
    .flatMap((to) =>
      retunings(copied, knownDrum(song, facts, from), knownDrum(song, facts, to)).map((line) => ({
        ...line,
        key: `${to.id} ${line.at} ${line.name}`,
        owner: to.id,
        works: works(copied[line.at]!, line.name),
      })),
    );
}

/** The chain as it goes to each target: tuned by the lines that were not refused. */
export const tunedBy =
  (copied: readonly ProcessorState[], lines: readonly RetuneLine[], refused: ReadonlySet<string>) =>
  (owner: Owner): readonly ProcessorState[] =>
    retuned(
      copied,
      lines.filter((l) => l.owner === owner.id && !refused.has(l.key)),
    );

const followed = {
  fundamental: "the fundamental",
  ring: "the ring",
  level: "the strokes' level",
} as const;
const said = ({ type, name }: RetuneLine, value: RetuneLine["from"]): string => {
  const spec = processorType(type).params[name]!;
  return isChoice(spec) || typeof value !== "number" ? String(value) : withUnit(value, spec.unit);
};

/** Values that follow the other drum, taken or refused line by line. */
export function RetuneList({
  lines,
  refused,
  setRefused,
}: {
  lines: readonly RetuneLine[];
  refused: ReadonlySet<string>;
  setRefused: (refused: ReadonlySet<string>) => void;
}) {
  const song = useSong((s) => s.song!);
  // What is off or asks for nothing is tuned along, and not worth a line.
  const told = lines.filter((l) => l.works);
  if (told.length === 0) return null;
  const toggle = (key: string) => {
    const next = new Set(refused);
    if (!next.delete(key)) next.add(key);
    setRefused(next);
  };
  return (
    <table className="retune" aria-label="Tuned to each drum">
      <thead>
        <tr>
          <th scope="col">Tuned to</th>
          <th scope="col">Value</th>
          <th scope="col">there</th>
          <th scope="col">here</th>
          <th scope="col">follows</th>
        </tr>
      </thead>
      <tbody>
        {told.map((line) => {
          const { label, params } = processorType(line.type);
          const name = ownerName(ownerOf(song, line.owner)!);
          const value = `${label}: ${params[line.name]!.label}`;
          return (
            <tr key={line.key}>
              <td>
                <Form.Check
                  id={`tune-${line.key}`}
                  label={name}
                  aria-label={`${value} on ${name}`}
                  checked={!refused.has(line.key)}
                  onChange={() => toggle(line.key)}
                />
              </td>
              <td>{value}</td>
              <td>{said(line, line.from)}</td>
              <td>{said(line, line.to)}</td>
              <td>{followed[line.follows]}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

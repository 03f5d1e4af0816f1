"use client";
import { Button, Table } from "react-bootstrap";
import type { Grade, Verdict } from "../../core/deliver/checks";
import { useSong } from "../shared/songStore";

const words: Readonly<Record<Grade, string>> = { passes: "passes", look: "look", fails: "fails" };
const stepNames = { gather: "Gather", align: "Align", tighten: "Tighten", clean: "Clean", shape: "Shape", blend: "Blend", deliver: "Deliver" } as const; // prettier-ignore

/** What was found of a render, worst first, each with its reason and the step where it is mended. */
export function Checks({ verdicts }: { verdicts: readonly Verdict[] }) {
  const { chooseStep } = useSong.getState();
  return (
    <Table size="sm" className="mic-table checks" aria-label="Checks">
      <tbody>
        {verdicts.map(({ name, figure, grade, reason, step }) => (
          <tr key={name}>
            <td>
              <span className={`grade ${grade}`}>{words[grade]}</span>
            </td>
            <th scope="row">{name}</th>
            <td className="number">{figure}</td>
            <td className="reason">{reason}</td>
            <td>
              {grade !== "passes" && step !== null && (
                <Button variant="link" size="sm" onClick={() => chooseStep(step)}>
                  {stepNames[step]}
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

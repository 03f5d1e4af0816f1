"use client";
import { Button, Table } from "react-bootstrap";
import type { Verdict } from "../../core/deliver/checks";
import { stepTitle } from "../compare/Compare";
import { useSong } from "../shared/songStore";

/** What was found of a render, worst first, each with its reason and the step where it is mended. */
export function Checks({ verdicts }: { verdicts: readonly Verdict[] }) {
  const { chooseStep } = useSong.getState();
  return (
    <Table size="sm" className="mic-table checks" aria-label="Checks">
      <tbody>
        {verdicts.map(({ name, figure, grade, reason, step }) => (
          <tr key={name}>
            <td>
              <span className={`grade ${grade}`}>{grade}</span>
            </td>
            <th scope="row">{name}</th>
            <td className="number">{figure}</td>
            <td className="reason">{reason}</td>
            <td>
              {grade !== "passes" && step !== null && (
                <Button variant="link" size="sm" onClick={() => chooseStep(step)}>
                  {stepTitle(step)}
                </Button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

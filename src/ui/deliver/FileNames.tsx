"use client";
import { Form } from "react-bootstrap";
import type { Delivery } from "../../core/deliver/delivery";
import { nameTokens } from "../../core/deliver/fileNames";
import { outputsOf } from "../../core/deliver/outputs";
import type { Song } from "../../core/song/song";
import { shortName } from "../shared/format";

/** What a file would be called, or why the pattern cannot be used. */
export function exampleName(song: Song, delivery: Delivery): { name: string; wrong: boolean } {
  try {
    const [kit, first] = outputsOf(song, { ...delivery, stems: true, beside: true });
    return { name: shortName((first ?? kit!).file), wrong: false };
  } catch (error) {
    return { name: (error as Error).message, wrong: true };
  }
}

const known = Object.keys(nameTokens)
  .map((t) => `{${t}}`)
  .join(" ");
const meanings = Object.entries(nameTokens)
  .map(([t, what]) => `{${t}}: ${what}`)
  .join("\n");

interface Props {
  readonly pattern: string;
  readonly named: ReturnType<typeof exampleName>;
  readonly take: (pattern: string) => void;
}

/** The pattern by which files are named, with an example. */
export function FileNames({ pattern, named, take }: Props) {
  return (
    <>
      <div className="deliver-names">
        <label htmlFor="deliver-names">Names</label>
        <Form.Control
          id="deliver-names"
          size="sm"
          maxLength={200}
          value={pattern}
          isInvalid={named.wrong}
          title={meanings}
          onChange={(e) => take(e.target.value)}
        />
      </div>
      <p className={named.wrong ? "warn" : "hint"}>
        {named.wrong ? named.name : `as in “${named.name}”; known: ${known}`}
      </p>
    </>
  );
}

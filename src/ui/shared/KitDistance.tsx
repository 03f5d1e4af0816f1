"use client";
import { Button } from "react-bootstrap";
import { roomDistance } from "../../core/align/kitDistance";
import { tunedTo } from "../../core/song/chainEdits";
import { processorType } from "../../core/processors";
import type { Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { shortName } from "./format";
import { useSong } from "./songStore";

/** Nearer than this they are the same, m. */
const same = 0.05;

/** How far the room mics of this kit stand, for a space whose early reflections can come from there. */
export function KitDistance({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const song = useSong((s) => s.song!);
  const name = processorType(state.type).takes.roomDistance;
  const measured = roomDistance(song);
  if (!name || !measured) return null;
  // As it comes in: what its parameter can hold.
  const metres = tunedTo(state.type, { roomDistance: measured.metres })[name] as number;
  const told = `${metres.toFixed(1)} m`;
  const mics = measured.mics.map((m) => shortName(m.file)).join(", ");
  if (Math.abs((state.params[name] as number) - metres) < same)
    return (
      <p className="hint">
        Distance as measured in this kit: {told} ({mics}).
      </p>
    );
  return (
    <Button
      size="sm"
      variant="outline-primary"
      title={`As far as the room mics of this kit stand, by their delays: ${mics}`}
      onClick={() =>
        useSong.getState().change(`Distance as in this kit, ${told}`, {
          op: "setProcessor",
          owner: owner.id,
          processor: state.id,
          params: { [name]: metres },
        })
      }
    >
      Distance as in this kit: {told}
    </Button>
  );
}

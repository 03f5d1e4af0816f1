"use client";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { partsOf } from "../../core/song/chain";
import { pasted } from "../../core/song/chainEdits";
import { tomSet } from "../../core/shape/tuning/tomSet";
import type { Mic } from "../../core/song/song";
import { RetuneList, tunedBy, useRetuneLines } from "../chain/RetuneList";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";

/** Puts the chain of one tom onto the others and keeps them together from then on. */
function Together({ mic, close }: { mic: Mic; close: () => void }) {
  const song = useSong((s) => s.song!);
  const [refused, setRefused] = useState<ReadonlySet<string>>(new Set());
  const others = tomSet(song).filter((m) => m.id !== mic.id);
  const { free } = partsOf(mic.chain);
  const lines = useRetuneLines(mic.id, others, free);
  const take = () => {
    const tuned = tunedBy(free, lines, refused);
    useSong.getState().change("Toms together", {
      op: "several",
      operations: [
        pasted(song, others, free, { replace: true, tuned }),
        { op: "setSong", values: { shaping: { ...song.shaping, tomsTogether: true } } },
      ],
    });
    close();
  };
  return (
    <Modal show onHide={close} aria-labelledby="toms-together" scrollable size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="toms-together" as="h2">
          One chain for all toms
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <p>
          The chain of {ownerName(mic)} goes onto {others.map(ownerName).join(", ")}, in the place of theirs.
          From then on what is set on one tom holds for all, each tuned to its drum; what is set otherwise on
          one of them first stays so.
        </p>
        <RetuneList lines={lines} refused={refused} setRefused={setRefused} />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={close}>
          Leave it
        </Button>
        <Button onClick={take}>Keep them together</Button>
      </Modal.Footer>
    </Modal>
  );
}

/** Whether the toms are kept together: shown on each of them, where there are several. */
export function TomsTogether({ mic }: { mic: Mic }) {
  const song = useSong((s) => s.song!);
  const [asks, setAsks] = useState(false);
  const set = tomSet(song);
  if (set.length < 2 || !set.some((m) => m.id === mic.id)) return null;
  const { tomsTogether } = song.shaping;
  const turn = () =>
    tomsTogether
      ? useSong.getState().change("Toms apart", {
          op: "setSong",
          values: { shaping: { ...song.shaping, tomsTogether: false } },
        })
      : setAsks(true);
  return (
    <>
      <Form.Check
        type="switch"
        id="toms-kept-together"
        label="Toms together"
        title="What is set on one tom holds for all of them, each tuned to its drum"
        checked={tomsTogether}
        onChange={turn}
      />
      {asks && <Together mic={mic} close={() => setAsks(false)} />}
    </>
  );
}

"use client";
import { useState } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { pasted } from "../../core/song/chainEdits";
import { ownersOf, type Owner } from "../../core/song/graph";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { useChainClip } from "./chainClip";
import { RetuneList, tunedBy, useRetuneLines } from "./RetuneList";

/** Every mic and bus, ticked where it is chosen. */
function Targets({
  chosen,
  choose,
}: {
  chosen: ReadonlySet<string>;
  choose: (ids: ReadonlySet<string>) => void;
}) {
  const song = useSong((s) => s.song!);
  const toggle = (id: string) => {
    const next = new Set(chosen);
    if (!next.delete(id)) next.add(id);
    choose(next);
  };
  return (
    <div className="paste-to">
      {ownersOf(song).map((o) => (
        <Form.Check
          key={o.id}
          id={`paste-${o.id}`}
          label={ownerName(o)}
          checked={chosen.has(o.id)}
          onChange={() => toggle(o.id)}
        />
      ))}
    </div>
  );
}

/** Asks onto which mics and buses what was copied goes, and whether it stands beside what is there or in its place. */
export function PasteTo({ owner, close }: { owner: Owner; close: () => void }) {
  const song = useSong((s) => s.song!);
  const { copied, from, source } = useChainClip();
  const [refused, setRefused] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<ReadonlySet<string>>(new Set([owner.id]));
  const [replace, setReplace] = useState(copied.length > 1);
  const targets = ownersOf(song).filter((o) => chosen.has(o.id));
  const lines = useRetuneLines(source, targets, copied);
  const paste = () => {
    useSong
      .getState()
      .change(
        `Paste onto ${targets.length} chains`,
        pasted(song, targets, copied, { replace, tuned: tunedBy(copied, lines, refused) }),
      );
    close();
  };
  return (
    <Modal show onHide={close} aria-labelledby="paste-to" scrollable size="lg">
      <Modal.Header closeButton>
        <Modal.Title id="paste-to" as="h2">
          Paste the {from}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <Targets chosen={chosen} choose={setChosen} />
        <RetuneList lines={lines} refused={refused} setRefused={setRefused} />
      </Modal.Body>
      <Modal.Footer>
        <Form.Check
          type="switch"
          id="paste-replace"
          className="me-auto"
          label="in the place of what is there"
          checked={replace}
          onChange={(e) => setReplace(e.target.checked)}
        />
        <Button variant="outline-secondary" onClick={close}>
          Leave it
        </Button>
        <Button disabled={targets.length === 0} onClick={paste}>
          Paste onto {targets.length}
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

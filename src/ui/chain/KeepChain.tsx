"use client";
import { useState, type FormEvent } from "react";
import { Button, Form, Modal } from "react-bootstrap";
import { partsOf } from "../../core/song/chain";
import type { Owner } from "../../core/song/graph";
import { ownerName } from "../shared/ProcessorPanel";
import { keepChain, useChainClip } from "./chainClip";

/** Asks for the name under which a chain is kept for all songs. */
export function KeepChain({ owner, close }: { owner: Owner; close: () => void }) {
  const [name, setName] = useState(ownerName(owner).slice(0, 60));
  const kept = useChainClip((s) => s.kept) ?? [];
  const trouble = useChainClip((s) => s.trouble);
  const same = kept.some((k) => k.name === name.trim());
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await keepChain(name.trim(), partsOf(owner.chain).free)) close();
  };
  return (
    <Modal show onHide={close} aria-labelledby="keep-chain">
      <Form onSubmit={(e) => void submit(e)}>
        <Modal.Header closeButton>
          <Modal.Title id="keep-chain" as="h2">
            Keep the chain of {ownerName(owner)}
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <Form.Label htmlFor="keep-name">Name</Form.Label>
          <Form.Control
            id="keep-name"
            autoFocus
            maxLength={60}
            value={name}
            onChange={(e) => setName(e.target.value)}
          />
          <Form.Text>
            {same
              ? "A chain of this name is kept already; it is replaced."
              : "It is there in every song, without keys and without values of sections."}
          </Form.Text>
          {trouble && <p className="warn">{trouble}</p>}
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={close}>
            Leave it
          </Button>
          <Button type="submit" disabled={name.trim() === ""}>
            Keep it
          </Button>
        </Modal.Footer>
      </Form>
    </Modal>
  );
}

"use client";
import { useState } from "react";
import { Dropdown } from "react-bootstrap";
import { partsOf } from "../../core/song/chain";
import { pasted } from "../../core/song/chainEdits";
import type { Owner } from "../../core/song/graph";
import { proposedChain } from "../../core/proposals/proposedChain";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { copyProcessors, giveUpChain, loadKept, useChainClip } from "./chainClip";
import { KeepChain } from "./KeepChain";
import { PasteTo } from "./PasteTo";

/** What can be done with a whole chain: copy, paste onto one or many, keep under a name, put back what was proposed. */
export function ChainMenu({ owner, chosen }: { owner: Owner; chosen: string | null }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const { change } = useSong.getState();
  const { copied, from, kept, trouble } = useChainClip();
  const [dialog, setDialog] = useState<"paste" | "keep" | null>(null);
  const { free } = partsOf(owner.chain);
  const one = free.find((p) => p.id === chosen);
  const name = ownerName(owner);
  const take = (label: string, chain: typeof copied) =>
    change(`${label} on ${name}`, pasted(song, [owner], chain, { replace: true }));
  return (
    <>
      <Dropdown onToggle={(open) => open && void loadKept()}>
        <Dropdown.Toggle size="sm" variant="outline-secondary">
          Chain
        </Dropdown.Toggle>
        <Dropdown.Menu className="chain-menu">
          <Dropdown.Item
            as="button"
            disabled={!one}
            onClick={() => one && copyProcessors([one], `one of ${name}`, owner.id)}
          >
            Copy the chosen processor
          </Dropdown.Item>
          <Dropdown.Item
            as="button"
            disabled={free.length === 0}
            onClick={() => copyProcessors(free, `chain of ${name}`, owner.id)}
          >
            Copy the chain
          </Dropdown.Item>
          <Dropdown.Item
            as="button"
            disabled={copied.length === 0}
            onClick={() => change(`Paste into ${name}`, pasted(song, [owner], copied, { after: chosen }))}
          >
            Paste here{from && `: ${from}`}
          </Dropdown.Item>
          <Dropdown.Item as="button" disabled={copied.length === 0} onClick={() => setDialog("paste")}>
            Paste onto several …
          </Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Item as="button" disabled={free.length === 0} onClick={() => setDialog("keep")}>
            Keep this chain for all songs …
          </Dropdown.Item>
          {trouble && <Dropdown.ItemText className="warn">{trouble}</Dropdown.ItemText>}
          {(kept ?? []).map((k) => (
            <div key={k.id} className="kept">
              <Dropdown.Item as="button" onClick={() => take(k.name, k.chain)}>
                Take “{k.name}”, {k.chain.length} processors
              </Dropdown.Item>
              <button
                type="button"
                className="more"
                aria-label={`Give “${k.name}” up`}
                onClick={() => void giveUpChain(k.id)}
              >
                give up
              </button>
            </div>
          ))}
          <Dropdown.Divider />
          <Dropdown.Item
            as="button"
            onClick={() => change(`Chain of ${name} as proposed`, proposedChain(song, facts, owner))}
          >
            Put back what was proposed
          </Dropdown.Item>
          <Dropdown.Item as="button" disabled={free.length === 0} onClick={() => take("Nothing", [])}>
            Take everything out
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      {dialog === "paste" && <PasteTo owner={owner} close={() => setDialog(null)} />}
      {dialog === "keep" && <KeepChain owner={owner} close={() => setDialog(null)} />}
    </>
  );
}

"use client";
import { useState, type ReactNode } from "react";
import { Dropdown } from "react-bootstrap";
import { partsOf } from "../../core/song/chain";
import { pasted } from "../../core/song/chainEdits";
import type { Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { proposedChain } from "../../core/proposals/proposedChain";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { copyProcessors, giveUpChain, loadKept, useChainClip } from "./chainClip";
import { KeepChain } from "./KeepChain";
import { PasteTo } from "./PasteTo";

interface ItemProps {
  readonly disabled?: boolean;
  readonly act: () => void;
  readonly children: ReactNode;
}
const Item = ({ disabled = false, act, children }: ItemProps) => (
  <Dropdown.Item as="button" disabled={disabled} onClick={act}>
    {children}
  </Dropdown.Item>
);

/** Chains that are kept for all songs. */
function KeptItems({ take }: { take: (label: string, chain: readonly ProcessorState[]) => void }) {
  const { kept, trouble } = useChainClip();
  return (
    <>
      {trouble && <Dropdown.ItemText className="warn">{trouble}</Dropdown.ItemText>}
      {(kept ?? []).map((k) => (
        <div key={k.id} className="kept">
          <Item act={() => take(k.name, k.chain)}>
            Take “{k.name}”, {k.chain.length} processors
          </Item>
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
    </>
  );
}

interface Props {
  readonly owner: Owner;
  readonly chosen: string | null;
}

/** What is in the menu; `ask` opens what has more to ask. */
function Items({ owner, chosen, ask }: Props & { ask: (dialog: "paste" | "keep") => void }) {
  const song = useSong((s) => s.song!);
  const facts = useSong((s) => s.facts);
  const { change } = useSong.getState();
  const { copied, from } = useChainClip();
  const { free } = partsOf(owner.chain);
  const one = free.find((p) => p.id === chosen);
  const name = ownerName(owner);
  const none = free.length === 0;
  const take = (label: string, chain: readonly ProcessorState[]) =>
    change(`${label} on ${name}`, pasted(song, [owner], chain, { replace: true }));
  const paste = () => change(`Paste into ${name}`, pasted(song, [owner], copied, { after: chosen }));
  return (
    <>
      <Item disabled={!one} act={() => one && copyProcessors([one], `one of ${name}`, owner.id)}>
        Copy the chosen processor
      </Item>
      <Item disabled={none} act={() => copyProcessors(free, `chain of ${name}`, owner.id)}>
        Copy the chain
      </Item>
      <Item disabled={copied.length === 0} act={paste}>
        Paste here{from && `: ${from}`}
      </Item>
      <Item disabled={copied.length === 0} act={() => ask("paste")}>
        Paste onto several …
      </Item>
      <Dropdown.Divider />
      <Item disabled={none} act={() => ask("keep")}>
        Keep this chain for all songs …
      </Item>
      <KeptItems take={take} />
      <Dropdown.Divider />
      <Item act={() => change(`Chain of ${name} as proposed`, proposedChain(song, facts, owner))}>
        Put back what was proposed
      </Item>
      <Item disabled={none} act={() => take("Nothing", [])}>
        Take everything out
      </Item>
    </>
  );
}

/** What can be done with a whole chain: copy, paste onto one or many, keep under a name, put back what was proposed. */
export function ChainMenu({ owner, chosen }: Props) {
  const [dialog, setDialog] = useState<"paste" | "keep" | null>(null);
  const close = () => setDialog(null);
  return (
    <>
      <Dropdown onToggle={(open) => open && void loadKept()}>
        <Dropdown.Toggle size="sm" variant="outline-secondary">
          Chain
        </Dropdown.Toggle>
        <Dropdown.Menu className="chain-menu">
          <Items owner={owner} chosen={chosen} ask={setDialog} />
        </Dropdown.Menu>
      </Dropdown>
      {dialog === "paste" && <PasteTo owner={owner} close={close} />}
      {dialog === "keep" && <KeepChain owner={owner} close={close} />}
    </>
  );
}

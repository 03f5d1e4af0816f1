"use client";
import { Dropdown } from "react-bootstrap";
import { PlusLg } from "react-bootstrap-icons";
import { purposes, type Purpose } from "../../core/processor";
import { addedProcessor, tunedTo } from "../../core/song/chainEdits";
import { knownDrum } from "../../core/shape/tuning/retune";
import { freeTypes, partsOf } from "../../core/song/chain";
import type { Owner } from "../../core/song/graph";
import { limits } from "../../core/song/limits";
import { ownerName } from "../shared/ProcessorPanel";
import { withToms } from "../shared/withToms";
import { useSong } from "../shared/songStore";

const purposeNames: Readonly<Record<Purpose, string>> = {
  level: "Level",
  place: "Place",
  clean: "Take bleed out",
  tone: "Tone",
  dynamics: "Loud and soft",
  colour: "Harmonics",
  space: "Space",
};

/** A list of all processors by what they are for; the one that is chosen comes in behind the one on the bench, or at the end. */
export function AddProcessor({ owner, behind }: { owner: Owner; behind: string | null }) {
  const { free } = partsOf(owner.chain);
  const full = free.length >= limits.processors;
  const add = (type: string, label: string) => {
    const at = free.findIndex((p) => p.id === behind);
    const { change, chooseProcessor, facts, song } = useSong.getState();
    const tuned = tunedTo(type, knownDrum(song!, facts, owner));
    const { id, operation } = addedProcessor(owner, type, at < 0 ? undefined : at + 1, tuned);
    change(`${label} into ${ownerName(owner)}`, withToms(operation));
    chooseProcessor(id);
  };
  return (
    <Dropdown>
      <Dropdown.Toggle
        size="sm"
        variant="outline-primary"
        disabled={full}
        title={full ? `A chain takes ${limits.processors} processors` : "Put a processor in"}
      >
        <PlusLg aria-hidden /> Add
      </Dropdown.Toggle>
      <Dropdown.Menu className="add-menu">
        {purposes
          .filter((p) => freeTypes.some((t) => t.purpose === p))
          .map((purpose) => (
            <div key={purpose} role="group" aria-label={purposeNames[purpose]}>
              <Dropdown.Header>{purposeNames[purpose]}</Dropdown.Header>
              {freeTypes
                .filter((t) => t.purpose === purpose)
                .map((t) => (
                  <Dropdown.Item key={t.type} as="button" title={t.help} onClick={() => add(t.type, t.label)}>
                    {t.label}
                  </Dropdown.Item>
                ))}
            </div>
          ))}
      </Dropdown.Menu>
    </Dropdown>
  );
}

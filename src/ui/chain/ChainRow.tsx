"use client";
import { closestCenter, DndContext, PointerSensor, useSensor, useSensors } from "@dnd-kit/core";
import { horizontalListSortingStrategy, SortableContext } from "@dnd-kit/sortable";
import { useState, type KeyboardEvent } from "react";
import { processorType } from "../../core/processors";
import { isQuick } from "../../core/shape/quick/turnQuick";
import { partsOf } from "../../core/song/chain";
import { movedProcessor, pasted, withoutProcessor } from "../../core/song/chainEdits";
import { isMic, nameOf, ownerOf, type Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { shortName, withUnit } from "../shared/format";
import { ownerName } from "../shared/ProcessorPanel";
import { useSong } from "../shared/songStore";
import { withToms } from "../shared/withToms";
import { AddProcessor } from "./AddProcessor";
import { copyProcessors, useChainClip } from "./chainClip";
import { ChainLink } from "./ChainLink";
import { ChainMenu } from "./ChainMenu";
import { useChainLevels } from "./useChainLevels";

/** Names of processors in a chain: the second of a kind has a number; those that quick controls drive are told. */
export const linkNames = (owner: Pick<Owner, "id">, chain: readonly ProcessorState[]): string[] =>
  chain.map((p, i) => {
    const { label } = processorType(p.type);
    if (isQuick(owner, p.id)) return `${label}, quick`;
    const nth = 1 + chain.slice(0, i).filter((x) => x.type === p.type && !isQuick(owner, x.id)).length;
    return nth === 1 ? label : `${label} ${nth}`;
  });

/** What a processor that is always first or last is set to, in a few letters; null when it does nothing. */
function settingOf(p: ProcessorState): string | null {
  const { params, label, alwaysOn } = processorType(p.type);
  if (!alwaysOn) return p.on ? label : null;
  const [name, spec] = Object.entries(params)[0]!;
  const value = p.params[name]!;
  if (value === spec.default) return null;
  return typeof value === "number" && "unit" in spec
    ? `${label} ${withUnit(value, spec.unit)}`
    : String(value);
}

function Fixed({
  states,
  empty,
  title,
}: {
  states: readonly ProcessorState[];
  empty: string;
  title: string;
}) {
  const texts = states.flatMap((p) => settingOf(p) ?? []);
  return (
    <span className="chain-fixed" title={title}>
      {texts.length > 0 ? texts.join(", ") : empty}
    </span>
  );
}

/** What is done to the processors of a chain, each as one step; `say` tells those who do not see where one went. */
function useLinkActs(owner: Owner, shown: string | null, say: (words: string) => void) {
  const song = useSong((s) => s.song!);
  const { change, chooseProcessor } = useSong.getState();
  const copied = useChainClip((s) => s.copied);
  const { free } = partsOf(owner.chain);
  const names = linkNames(owner, free);
  const move = (id: string, to: number) => {
    const from = free.findIndex((p) => p.id === id);
    const place = Math.max(0, Math.min(free.length - 1, to));
    if (from < 0 || place === from) return;
    change(`Order of ${ownerName(owner)}`, withToms(movedProcessor(owner, id, place)));
    say(`${names[from]} is ${place + 1} of ${free.length}`);
  };
  const remove = (p: ProcessorState, name: string) => {
    change(`${name} out of ${ownerName(owner)}`, withToms(withoutProcessor(owner, p.id)));
    if (shown === p.id) chooseProcessor(null);
  };
  const turn = (p: ProcessorState, on: boolean, name: string) =>
    change(
      `${name} of ${ownerName(owner)} ${on ? "on" : "off"}`,
      withToms({ op: "setProcessor", owner: owner.id, processor: p.id, on }),
    );
  const onKey = (event: KeyboardEvent, p: ProcessorState, i: number) => {
    const { key, altKey } = event;
    const control = event.ctrlKey || event.metaKey;
    if (altKey && (key === "ArrowLeft" || key === "ArrowRight"))
      move(p.id, i + (key === "ArrowLeft" ? -1 : 1));
    else if (key === "Delete" || key === "Backspace") remove(p, names[i]!);
    else if (control && key.toLowerCase() === "c")
      copyProcessors([p], `${names[i]} of ${ownerName(owner)}`, owner.id);
    else if (control && key.toLowerCase() === "v" && copied.length > 0)
      change(`Paste into ${ownerName(owner)}`, pasted(song, [owner], copied, { after: p.id }));
    else return;
    event.preventDefault();
  };
  return { free, names, move, remove, turn, onKey };
}

interface Props {
  readonly owner: Owner;
  readonly shown: string | null;
}

/** The processors that one may change, in their order. */
function Links({ owner, shown, say }: Props & { say: (words: string) => void }) {
  const song = useSong((s) => s.song!);
  const figure = useChainLevels(owner);
  const { free, names, move, remove, turn, onKey } = useLinkActs(owner, shown, say);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 5 } }));
  const keyName = (key: string | null | undefined): string | null => {
    const other = ownerOf(song, key ?? null);
    return other ? shortName(nameOf(other)) : null;
  };
  const placeOf = (id: string | number) => free.findIndex((p) => p.id === id);
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragEnd={({ active, over }) => over && move(String(active.id), placeOf(over.id))}
    >
      <SortableContext items={free.map((p) => p.id)} strategy={horizontalListSortingStrategy}>
        <ol>
          {free.map((p, i) => (
            <ChainLink
              key={p.id}
              state={p}
              name={names[i]!}
              chosen={p.id === shown}
              choose={() => useSong.getState().chooseProcessor(p.id)}
              turn={(on) => turn(p, on, names[i]!)}
              remove={() => remove(p, names[i]!)}
              onKey={(e) => onKey(e, p, i)}
              figure={figure(p.id)}
              key_={keyName(p.key)}
            />
          ))}
        </ol>
      </SortableContext>
    </DndContext>
  );
}

/**
 * The chain of a mic or bus as a row, in the order in which the sound runs: what must be first, what one may change, what must be
 * last. `shown`: the processor on the bench. Processors are chosen, switched, moved by dragging or with Alt and the arrows, copied, taken out.
 */
export function ChainRow({ owner, shown }: Props) {
  const [said, say] = useState("");
  const { first, last } = partsOf(owner.chain);
  return (
    <section className="chain-row" aria-label={`Chain of ${ownerName(owner)}`}>
      <Fixed
        states={first}
        empty={isMic(owner) ? "as recorded" : "what comes in"}
        title="Always first: cancelling, delay, polarity, phase rotation and trim. Set in Gather, Align and Clean."
      />
      <Links owner={owner} shown={shown} say={say} />
      <Fixed
        states={last}
        empty={isMic(owner) ? "middle" : "fader"}
        title="Always last: pan and fader. Set in Blend."
      />
      <span className="chain-tools">
        <AddProcessor owner={owner} behind={shown} />
        <ChainMenu owner={owner} chosen={shown} />
      </span>
      <span className="visually-hidden" role="status">
        {said}
      </span>
    </section>
  );
}

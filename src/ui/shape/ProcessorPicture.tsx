"use client";
import { processorType } from "../../core/processors";
import type { Owner } from "../../core/song/graph";
import type { ProcessorState } from "../../core/song/song";
import { Nothing } from "../shared/Nothing";
import { EqPicture } from "./eq/EqPicture";
import { SidesPicture } from "./SidesPicture";
import { StrokePictures } from "./StrokePictures";

/** What a processor does, drawn over all strokes that its mic or bus is judged by. */
export function ProcessorPicture({ owner, state }: { owner: Owner; state: ProcessorState }) {
  const { picture, label } = processorType(state.type);
  if (picture?.over === "frequency") return <EqPicture key={state.id} owner={owner} state={state} />;
  if (picture?.over === "sides")
    return <SidesPicture key={state.id} owner={owner} state={state} below={picture.below} />;
  if (picture?.over === "strokes")
    return <StrokePictures key={state.id} owner={owner} state={state} picture={picture} />;
  return <Nothing>{label} has no picture; hear it with Compare.</Nothing>;
}

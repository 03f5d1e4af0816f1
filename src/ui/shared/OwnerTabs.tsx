"use client";
import { isMic, type Owner } from "../../core/song/graph";
import { shortName } from "./format";
import { useSong } from "./songStore";

/** Mics of the drum on the bench, with their bus where it has a chain to shape, one chosen. */
export function OwnerTabs({ owners, chosen }: { owners: readonly Owner[]; chosen: string }) {
  if (owners.length < 2) return null;
  const { chooseMic, chooseBus } = useSong.getState();
  return (
    <div className="mic-tabs" role="group" aria-label="Mics of this drum">
      {owners.map((o) => (
        <button
          key={o.id}
          type="button"
          aria-pressed={o.id === chosen}
          className={o.id === chosen ? "chosen" : ""}
          title={isMic(o) ? undefined : "All mics of this drum together"}
          onClick={() => (isMic(o) ? chooseMic(o.id) : chooseBus(o.id))}
        >
          {isMic(o) ? shortName(o.file) : `${o.name}, all mics`}
        </button>
      ))}
    </div>
  );
}

"use client";
import type { Mic } from "../../core/song/song";
import { shortName } from "./format";
import { useSong } from "./songStore";

/** The mics of the drum on the bench, one chosen. */
export function MicTabs({ mics }: { mics: readonly Mic[] }) {
  const chosen = useSong((s) => s.mic);
  if (mics.length < 2) return null;
  return (
    <div className="mic-tabs" role="group" aria-label="Mics of this drum">
      {mics.map((m) => (
        <button
          key={m.id}
          type="button"
          aria-pressed={m.id === chosen}
          className={m.id === chosen ? "chosen" : ""}
          onClick={() => useSong.getState().chooseMic(m.id)}
        >
          {shortName(m.file)}
        </button>
      ))}
    </div>
  );
}

import { useEffect, useState } from "react";
import type { JudgedCleaning } from "../../contract";
import { api } from "../shared/api";
import type { Mic } from "../../core/song/song";
import { allSaved, useSong } from "../shared/songStore";

/** After a move it is waited this long for the next one, ms. */
const calm = 500;

/** What the ways to clean a mic do, measured anew when its chain or its strokes change; the old figures stay meanwhile. */
export function useCleaning(mic: Mic): { value: JudgedCleaning | null; busy: boolean; error: string | null } {
  const id = useSong((s) => s.id);
  const hits = useSong((s) => s.song!.hits);
  const bleed = useSong((s) => s.song!.bleed);
  const [value, setValue] = useState<JudgedCleaning | null>(null);
  const [busy, setBusy] = useState(true);
  const [error, setError] = useState<string | null>(null);
  const chain = JSON.stringify(mic.chain);
  useEffect(() => {
    let asked = true;
    setBusy(true);
    const timer = setTimeout(async () => {
      try {
        await allSaved();
        const found = await api.judgeCleaning(id, mic.id);
        if (!asked) return;
        setValue(found);
        setError(null);
      } catch (e) {
        if (asked) setError(e instanceof Error ? e.message : String(e));
      }
      if (asked) setBusy(false);
    }, calm);
    return () => {
      asked = false;
      clearTimeout(timer);
    };
  }, [id, mic.id, chain, hits, bleed]);
  return { value, busy, error };
}

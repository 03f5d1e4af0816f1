import { useState } from "react";
import type { Song } from "../../core/song/song";
import { allSaved, useSong } from "./songStore";

export interface Measured<T> {
  readonly value: T | null;
  readonly busy: boolean;
  /** The song as it was when it was measured. */
  readonly of: Song | null;
  measure(): Promise<void>;
}

/** What the server measures when it is asked to, of the song with every change that was made here. */
export function useMeasured<T>(ask: (id: string) => Promise<T>): Measured<T> {
  const id = useSong((s) => s.id);
  const [state, setState] = useState<{ value: T; of: Song } | null>(null);
  const [busy, setBusy] = useState(false);
  const measure = async (): Promise<void> => {
    setBusy(true);
    try {
      await allSaved();
      const of = useSong.getState().song!;
      setState({ value: await ask(id), of });
    } catch (error) {
      useSong.getState().tell(error instanceof Error ? error.message : String(error));
    }
    setBusy(false);
  };
  return { value: state?.value ?? null, of: state?.of ?? null, busy, measure };
}

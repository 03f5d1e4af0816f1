import { useEffect, useState } from "react";
import type { EvidenceKind, EvidenceKinds, EvidenceReply } from "../../playback/evidence";

/** Pictures follow every move; what takes seconds is measured beside them and does not hold them up. */
const slow: ReadonlySet<EvidenceKind> = new Set(["quick", "quickLouder"]);
const workers = new Map<boolean, Worker>();
let nextId = 1;
const open = new Map<number, (reply: EvidenceReply) => void>();

/** Asks the evidence worker. Errors: Error with the worker's words. */
export function askEvidence<K extends EvidenceKind>(
  kind: K,
  ask: EvidenceKinds[K]["ask"],
): Promise<EvidenceKinds[K]["answer"]> {
  let worker = workers.get(slow.has(kind));
  if (!worker) {
    worker = new Worker("/jubo/evidenceWorker.js", { type: "module" });
    workers.set(slow.has(kind), worker);
    worker.onmessage = ({ data }: MessageEvent<EvidenceReply>) => {
      open.get(data.id)?.(data);
      open.delete(data.id);
    };
  }
  const id = nextId++;
  return new Promise((resolve, reject) => {
    open.set(id, (reply) =>
      "error" in reply ? reject(new Error(reply.error)) : resolve(reply.answer as EvidenceKinds[K]["answer"]),
    );
    worker!.postMessage({ id, kind, ask });
  });
}

export interface Evidence<T> {
  readonly value: T | null;
  /** True while a newer answer is on its way. */
  readonly busy: boolean;
  readonly error: string | null;
}

/**
 * Evidence that follows its question: asked anew when `key` changes, at most once at a time, the last question wins.
 * `ask` null: there is nothing to show.
 */
export function useEvidence<K extends EvidenceKind>(
  kind: K,
  key: string,
  ask: EvidenceKinds[K]["ask"] | null,
): Evidence<EvidenceKinds[K]["answer"]> {
  const [state, setState] = useState<Evidence<EvidenceKinds[K]["answer"]>>({
    value: null,
    busy: false,
    error: null,
  });
  useEffect(() => {
    if (!ask) {
      setState({ value: null, busy: false, error: null });
      return;
    }
    let current = true;
    setState((s) => ({ ...s, busy: true }));
    const timer = setTimeout(() => {
      askEvidence(kind, ask).then(
        (value) => current && setState({ value, busy: false, error: null }),
        (error: Error) => current && setState({ value: null, busy: false, error: error.message }),
      );
    }, 60); // a drag asks for its last place only
    return () => {
      current = false;
      clearTimeout(timer);
    };
    // The key stands for the question.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [kind, key]);
  return state;
}

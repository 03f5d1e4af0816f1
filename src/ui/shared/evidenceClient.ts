import { useEffect, useRef, useState } from "react";
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
 * Evidence that follows its question: asked anew when `key` changes, at once, but one question at a time: while an answer is on its way only
 * the last question waits, so that a drag sees where it was a moment ago and then where it has come to.
 * `ask` null: there is nothing to show.
 */
export function useEvidence<K extends EvidenceKind>(
  kind: K,
  key: string,
  ask: EvidenceKinds[K]["ask"] | null,
): Evidence<EvidenceKinds[K]["answer"]> {
  const [state, setState] = useState<Evidence<EvidenceKinds[K]["answer"]>>(nothingYet);
  const desk = useRef({ underWay: false, wanted: false, next: null as null | (() => void) });
  useEffect(() => {
    const { current: line } = desk;
    line.wanted = ask !== null;
    if (!ask) {
      setState(nothingYet);
      return;
    }
    let current = true;
    setState((s) => ({ ...s, busy: true }));
    const put = () => {
      line.underWay = true;
      askEvidence(kind, ask)
        .then(
          (value) => line.wanted && setState({ value, busy: !current, error: null }),
          (error: Error) => current && setState({ value: null, busy: false, error: error.message }),
        )
        .finally(() => {
          line.underWay = false;
          const { next } = line;
          line.next = null;
          next?.();
        });
    };
    if (line.underWay) line.next = put;
    else put();
    return () => {
      current = false;
      if (line.next === put) line.next = null;
    };
    // The key stands for the question.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [kind, key]);
  return state;
}
const nothingYet = { value: null, busy: false, error: null };

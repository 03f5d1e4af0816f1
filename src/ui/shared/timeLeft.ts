import type { Task } from "../../contract";

/** Before that much is known of how fast it goes, nothing is said, s and share. */
const [least, leastShare] = [3, 0.04];

/** How far work was at an instant: share 0..1, time s. */
interface Progress {
  readonly at: number;
  readonly share: number;
}

/** Time that work still takes as fast as it went, s; null: too early to say. */
export function timeLeft(begun: Progress, now: Progress): number | null {
  const [went, done] = [now.at - begun.at, now.share - begun.share];
  return went < least || done < leastShare ? null : ((1 - now.share) * went) / done;
}

/** In steps that do not jump about. */
export function leftTold(seconds: number | null): string {
  if (seconds === null) return "";
  if (seconds < 10) return "some seconds left";
  if (seconds < 100) return `about ${Math.ceil(seconds / 10) * 10} s left`;
  return `about ${Math.ceil(seconds / 60)} min left`;
}

/** The task that was told last, where it was seen first: all that tell of it tell the same. */
let begun: Progress & { readonly id: string } = { id: "", at: 0, share: 0 };

/** How far a task is, what it does now and how long it still takes, in words. `at`: now, s. */
export function taskTold({ id, state, progress, doing }: Task, at: number): string {
  if (state === "waiting") return "waits for a worker";
  if (begun.id !== id || progress < begun.share) begun = { id, at, share: progress };
  const left = leftTold(timeLeft(begun, { at, share: progress }));
  return [`${Math.round(100 * progress)} %`, doing, left].filter(Boolean).join(", ");
}

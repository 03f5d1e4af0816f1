import type { Edit } from "./song";

/**
 * Cuts must ascend, and no crossfade may reach over the cut before it: nothing could be read by them.
 * Errors  RangeError or TypeError that names `whose` cuts they are and what is wrong.
 */
export function checkEdits(edits: readonly Edit[], whose: string): void {
  let last = -Infinity;
  for (const e of Array.isArray(edits) ? edits : []) {
    if (typeof e !== "object" || e === null) throw new TypeError(`${whose}: one of its cuts is none`);
    const usable =
      [e.at, e.shift, e.fade].every(Number.isSafeInteger) &&
      e.fade >= 1 &&
      e.likeness >= 0 &&
      e.likeness <= 1;
    if (!usable || e.at - e.fade < last)
      throw new RangeError(
        `${whose}: the cut at frame ${e.at} (shift ${e.shift}, fade ${e.fade}) does not fit`,
      );
    last = e.at;
  }
  if (!Array.isArray(edits)) throw new TypeError(`${whose} lacks its cuts`);
}

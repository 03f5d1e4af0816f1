import { useEffect } from "react";
import { shortcuts } from "./shortcuts";

/** True while the focus was moved by the pointer last and not by the Tab key. */
let pointed = false;

/** Keys of a list that labels by them, while it has the focus: Shift and any, or any right behind that. */
const isForLabelList = ({ code, shiftKey }: KeyboardEvent, { dataset }: HTMLElement): boolean =>
  dataset["labelKeys"] !== undefined &&
  /^(Key|Digit)/.test(code) &&
  (shiftKey || dataset["labelKeys"] === "place");

/** True when a key belongs to what has the focus and not to the page. */
function taken(event: KeyboardEvent): boolean {
  const at = event.target as HTMLElement;
  if (!event.ctrlKey && !event.metaKey && !event.altKey && isForLabelList(event, at)) return true;
  if (event.ctrlKey || event.metaKey)
    return at.matches("input:not([type=range]):not([type=checkbox]), textarea");
  if (at.matches("input:not([type=checkbox]), textarea, select")) return true;
  // A grip in a picture is moved by them.
  if (!event.altKey && at.matches("[role=slider]") && /^(Arrow|Page|Home|End)/.test(event.key)) return true;
  const own = event.key === " " && at.matches("button, a, [role=button], input");
  // Space belongs to a button that was reached by keyboard; after a click it plays, as everywhere.
  if (!own || !pointed) return own;
  at.blur();
  return false;
}

/** Listens for the shortcuts of the song view while it is shown. `toggleSheet` is the same on every draw. */
export function useShortcuts(toggleSheet: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.key === "Tab") pointed = false;
      if (taken(event)) return;
      if (event.key === "?") {
        event.preventDefault();
        return toggleSheet();
      }
      const found = shortcuts.find((s) => s.fits(event));
      if (!found) return;
      event.preventDefault();
      event.stopPropagation();
      found.act(event);
    };
    const onClick = () => {
      pointed = true;
    };
    window.addEventListener("keydown", onKey, true); // before what has the focus
    window.addEventListener("pointerdown", onClick, true);
    return () => {
      window.removeEventListener("keydown", onKey, true);
      window.removeEventListener("pointerdown", onClick, true);
    };
  }, [toggleSheet]);
}

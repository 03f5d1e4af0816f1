import { useEffect } from "react";
import { shortcuts } from "./shortcuts";

/** What was clicked last, while it has the focus. */
let clicked: Element | null = null;

/** True when a key belongs to what has the focus and not to the page. */
function taken(event: KeyboardEvent): boolean {
  const at = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey)
    return at.matches("input:not([type=range]):not([type=checkbox]), textarea");
  if (at.matches("input:not([type=checkbox]), textarea, select")) return true;
  const own = event.key === " " && at.matches("button, a, [role=button], input");
  // Space belongs to a button that was reached by keyboard; after a click it plays, as everywhere.
  if (!own || at !== clicked) return own;
  at.blur();
  return false;
}

/** Listens for the shortcuts of the song view while it is shown. */
export function useShortcuts(toggleSheet: () => void): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
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
    const onClick = (event: PointerEvent) => {
      clicked = (event.target as Element).closest("button, a, [role=button], input");
    };
    window.addEventListener("keydown", onKey, true); // before what has the focus
    window.addEventListener("pointerdown", onClick, true);
    return () => {
      window.removeEventListener("keydown", onKey, true);
      window.removeEventListener("pointerdown", onClick, true);
    };
    // One sheet for the life of the view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
}

import { useEffect } from "react";
import { shortcuts } from "./shortcuts";

/** True when a key belongs to what has the focus and not to the page. */
function taken(event: KeyboardEvent): boolean {
  const at = event.target as HTMLElement;
  if (event.ctrlKey || event.metaKey)
    return at.matches("input:not([type=range]):not([type=checkbox]), textarea");
  if (at.matches("input:not([type=checkbox]), textarea, select")) return true;
  return event.key === " " && at.matches("button, a, [role=button], input");
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
      found.act(event);
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
    // One sheet for the life of the view.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, []);
}

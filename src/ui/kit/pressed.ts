import type { KeyboardEvent } from "react";

/** Does what a press does when a key presses it. */
export function pressed(event: KeyboardEvent, act: () => void): void {
  if (event.key !== "Enter" && event.key !== " ") return;
  event.preventDefault();
  event.stopPropagation();
  act();
}

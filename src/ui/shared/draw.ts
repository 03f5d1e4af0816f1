// What is drawn with every report of the engine: the page is only touched where something has changed, since every
// touch makes the browser lay out and paint anew.

/** Sets an element's text when it is another one. What stands there is asked, because React may have drawn it anew. */
export function setText(element: Element | null | undefined, text: string): void {
  if (element && element.textContent !== text) element.textContent = text;
}

/** Sets a style when it is another one; `value` rounded to what can be seen. */
export function setStyle(
  element: HTMLElement | SVGElement | null | undefined,
  name: "opacity" | "transform",
  value: string,
): void {
  if (element && element.style[name] !== value) element.style[name] = value;
}

/** Fills a bar from its left to a share, 0..1; its width stays, so that nothing is laid out anew. */
export const setShare = (bar: HTMLElement | SVGElement | null | undefined, share: number): void =>
  setStyle(bar, "transform", `scaleX(${Math.min(1, Math.max(0, share)).toFixed(2)})`);

/** Lets only some of the reports through: at most one in `ms`. */
export function atMostEvery<T>(ms: number, draw: (state: T) => void): (state: T) => void {
  let last = -Infinity;
  return (state) => {
    const now = performance.now();
    if (now - last < ms) return;
    last = now;
    draw(state);
  };
}

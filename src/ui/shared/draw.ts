// What is drawn with every report of the engine: the page is only touched where something has changed, since every
// touch makes the browser lay out and paint anew.

const texts = new WeakMap<Element, string>();

/** Sets an element's text when it is another one. */
export function setText(element: Element | null | undefined, text: string): void {
  if (!element || texts.get(element) === text) return;
  texts.set(element, text);
  element.textContent = text;
}

const styles = new WeakMap<Element, string>();

/** Sets a style when it is another one; `value` rounded to what can be seen. */
export function setStyle(
  element: HTMLElement | SVGElement | null | undefined,
  name: "opacity" | "width" | "transform",
  value: string,
): void {
  if (!element || styles.get(element) === value) return;
  styles.set(element, value);
  element.style[name] = value;
}

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

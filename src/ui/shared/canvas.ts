import { useEffect, type RefObject } from "react";

/** A canvas to draw on in the page's units, as sharp as the screen is, with the theme's colours by name. */
export interface Sheet {
  readonly ctx: CanvasRenderingContext2D;
  readonly width: number;
  readonly height: number;
  readonly color: (name: string) => string;
}

/** Colour of the theme by its name, without the dashes. */
export const themeColor = (element: Element, name: string): string =>
  getComputedStyle(element).getPropertyValue(`--${name}`).trim();

/** Clears a canvas and makes it as large as it is shown. */
export function sheetOf(canvas: HTMLCanvasElement): Sheet {
  const ratio = window.devicePixelRatio || 1;
  const { clientWidth: width, clientHeight: height } = canvas;
  canvas.width = width * ratio;
  canvas.height = height * ratio;
  const ctx = canvas.getContext("2d")!;
  ctx.scale(ratio, ratio);
  ctx.clearRect(0, 0, width, height);
  return { ctx, width, height, color: (name) => themeColor(canvas, name) };
}

/** Draws anew when `redraw` changes, the canvas changes its size, or the page turns dark or light. */
export function useRedraw(canvas: RefObject<HTMLCanvasElement | null>, redraw: () => void): void {
  useEffect(() => {
    redraw();
    const observer = new ResizeObserver(redraw);
    observer.observe(canvas.current!);
    const dark = matchMedia("(prefers-color-scheme: dark)");
    dark.addEventListener("change", redraw);
    return () => {
      observer.disconnect();
      dark.removeEventListener("change", redraw);
    };
  }, [canvas, redraw]);
}

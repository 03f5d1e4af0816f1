import { themeColor } from "../canvas";

/** A colour of the theme by its name, or as it is given. */
export const colorOf = (canvas: HTMLCanvasElement, name: string): string => themeColor(canvas, name) || name;

export interface Series {
  readonly label: string;
  readonly points: readonly (readonly [number, number])[];
  /** Name of a colour of the theme, without the dashes: "ink", "snare" … */
  readonly color: string;
  readonly kind?: "line" | "points" | "bars";
  readonly dashed?: boolean;
  readonly width?: number;
  readonly fill?: boolean;
  readonly radius?: number;
  /** Where bars begin. */
  readonly base?: number;
  readonly shape?: "circle" | "triangle" | "rect" | "cross";
}
export interface AxisSpec {
  readonly label: string;
  readonly min: number;
  readonly max: number;
  readonly log?: boolean;
  readonly ticks?: readonly number[];
  readonly format?: (value: number) => string;
}
/** A line across the plot that stands for a setting. */
export interface Mark {
  readonly id: string;
  readonly axis: "x" | "y";
  readonly value: number;
  readonly label: string;
  readonly color?: string;
  readonly dashed?: boolean;
  readonly drag?: (value: number, done: boolean) => void;
}
/** A point that is dragged in both directions. */
export interface Handle {
  readonly id: string;
  /** What it is, for those who do not see it; its label without one. */
  readonly name?: string;
  readonly x: number;
  readonly y: number;
  readonly label: string;
  readonly color?: string;
  readonly drag: (x: number, y: number, done: boolean) => void;
}
/** Tells a line that moves while it plays: calls `draw` whenever it has moved, null where there is none; returns how to stop it. */
export type Moving = (draw: (points: Series["points"] | null) => void) => () => void;

export interface PlotProps {
  /** What the picture shows, for those who do not see it. */
  readonly caption: string;
  readonly series: readonly Series[];
  readonly moving?: Moving | undefined;
  readonly x: AxisSpec;
  readonly y: AxisSpec;
  readonly marks?: readonly Mark[];
  readonly handles?: readonly Handle[];
  readonly onPoint?: (series: number, index: number) => void;
  readonly height?: number | string;
}

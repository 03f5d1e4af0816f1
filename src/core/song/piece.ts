// What a mic hears and where it stands, by the field's own words.
export const pieces = [
  "kick",
  "snare",
  "tom1",
  "tom2",
  "tom3",
  "floor",
  "hat",
  "ride",
  "crash",
  "overhead",
  "room",
  "sample",
  "loop",
  "context",
  "response",
] as const;
export type Piece = (typeof pieces)[number];

export const places = [
  "in",
  "out",
  "sub",
  "top",
  "bottom",
  "side",
  "left",
  "right",
  "pair",
  "close",
  "trigger",
] as const;
export type Place = (typeof places)[number];

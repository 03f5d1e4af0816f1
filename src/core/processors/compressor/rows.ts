// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
export const BEND = 0;
export const KNEE = 1;
export const SLOPE = 2;
export const CURVE = 3;
export const UP = 4;
export const DOWN = 5;
export const MAKEUP = 6;
export const WET = 7;
export const RMS = 8;
export const AVERAGE = 9;
export const PAIRED = 10;
export const BEND_LEVEL = 11;
export const PARAMS = 12;

export const REDUCTION = 0;
export const POWER = 1;
export const DEEPEST = 2;
export const STATES = 3;

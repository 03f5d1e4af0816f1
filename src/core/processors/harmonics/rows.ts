// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
/** Bits of which bends some lane has; the first tells harmonics from saturation. */
export const OF_HARMONICS = 256;
export const BEND_ROUNDED = 2;
export const BEND_HARD = 4;
export const BEND_FOLDED = 8;
export const BEND_ONE_SIDED = 16;
export const BEND_SQUARED = 32;

export const DRIVE = 0;
export const ODD = 1;
export const EVEN = 2;
export const HARD = 3;
export const ROUNDED = 4;
export const FOLDED = 5;
export const ONE_SIDED = 6;
/** 1: even harmonics come from the square of what is bent. */
export const SQUARED = 7;
export const MATCHED = 8;
export const OUTPUT = 9;
export const AVERAGING = 10;
export const PAIRED = 11;
export const PARAMS = 12;

export const CAME = 0;
export const MADE = 1;
export const STATES = 2;

// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
/** Width of the band around the fundamental: wide enough for a drum whose pitch falls. */
export const Q = 1.5;
/** Amplitude under which nothing is made: a quotient of it would be noise. */
export const LEAST = 1e-7;

/** Coefficients of the state-variable filter. */
export const A1 = 0;
export const A2 = 1;
export const A3 = 2;
/** Gains of the second to the fifth harmonic, linear. */
export const SECOND = 3;
export const THIRD = 4;
export const FOURTH = 5;
export const FIFTH = 6;
export const PARAMS = 7;

export const FIRST_STATE = 0;
export const SECOND_STATE = 1;
export const STATES = 2;

// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
export const DRIVE = 0;
export const KNEE = 1;
/** Shares of the signal itself and of what is taken away, linear. */
export const STRAIGHT = 2;
export const CUT = 3;
export const PARAMS = 4;

/** The last two samples, the second integral at the last one, the quotient before it: see signal/smoothedCurve.ts. */
export const X1 = 0;
export const X2 = 1;
export const LAST = 2;
export const SLOPE = 3;
/** What was taken away at the last three samples. */
export const LATE = 4;
/** Largest sample of the last call of which something was taken. */
export const MOST = 7;
export const STATES = 8;

// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
export const DRIVE = 0;
export const BIAS = 1;
export const CENTRE = 2;
export const WET = 3;
export const STRAIGHT = 4;
export const HARD = 5;
export const ROUNDED = 6;
export const PARAMS = 7;

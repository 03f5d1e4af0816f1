// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
export const UP = 0;
export const DOWN = 1;
export const BY_LEVEL = 2;
export const PAIRED = 3;
export const HOLD = 4;
export const WAIT = 5;
export const ATTACK = 6;
export const RELEASE = 7;
export const FLOOR = 8;
export const PARAMS = 9;

export const OPEN = 0;
export const HELD = 1;
export const GAIN = 2;
export const STATES = 3;

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
/** Most reduction, dB; frames of the hold; pole of the slow release; 1: works backwards, releases by the programme, reads both. */
export const RANGE = 12;
export const HOLD = 13;
export const SLOWLY = 14;
export const FEEDBACK = 15;
export const PROGRAMME = 16;
export const BOTH = 17;
export const PARAMS = 18;

export const REDUCTION = 0;
export const POWER = 1;
export const DEEPEST = 2;
export const HELD = 3;
export const SLOW = 4;
export const STATES = 5;

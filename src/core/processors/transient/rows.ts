// Rows of the kernel's parameters and of its state, four lanes each: for TypeScript and for AssemblyScript alike.
/** Distance of the envelopes at which the whole attack or sustain is reached, dB; amplitude under which there is no stroke. */
export const WHOLE_DB = 12;
export const SILENT = 1e-6;

export const ATTACK = 0;
export const SUSTAIN = 1;
export const RISE = 2;
export const FALL = 3;
export const TAIL = 4;
export const MOVE = 5;
export const BY_HITS = 6;
export const PAIRED = 7;
/** 1: the lane has this band. */
export const USED = 8;
export const OUTPUT = 9;
export const PARAMS = 10;

export const NEAR = 0;
export const SLOW = 1;
export const LONG = 2;
export const GAIN = 3;
/** Largest level since the ring of peaks began anew. */
export const PREFIX = 4;
export const STATES = 5;

// The kernels of the per-mic chain and of the analysis, in AssemblyScript, compiled to WebAssembly by scripts/kernels.mjs. They know neither songs nor chains:
// pointers and frames come from src/core/lanes and src/core/hits. Nothing here allocates.
export { bandPowers } from "./bandPowers";
export { cascade } from "./cascade";
export { compressor } from "./compressor";
export { convolve, copyFloats, record } from "./delay";
export { addStereo, deinterleave, fade, glideGain, hold, interleave, spread, unfinite } from "./lanes";
export { dynamicBand } from "./dynamicEq";
export { explain } from "./explain";
export { gate } from "./gate";
export { saturation, saturationScratch, saturationState } from "./saturation";

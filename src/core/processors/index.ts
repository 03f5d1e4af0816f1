import type { ProcessorType } from "../processor";
import { air } from "./air";
import { bandCompressor } from "./bandCompressor";
import { cancel } from "./cancel";
import { chopper } from "./chopper";
import { clipper } from "./clipper";
import { compressor } from "./compressor";
import { dynamicEq } from "./dynamicEq";
import { eq } from "./eq";
import { expander } from "./expander";
import { gate } from "./gate";
import { recordedSpace } from "./recordedSpace";
import { reducer } from "./reducer";
import { reverb } from "./reverb";
import { rotation } from "./rotation";
import { ringTamer } from "./ringTamer";
import { saturation } from "./saturation";
import { shortSpace } from "./shortSpace";
import { delay } from "./delay";
import { harmonics } from "./harmonics";
import { limiter } from "./limiter";
import { lowHarmonics } from "./lowHarmonics";
import { pan } from "./pan";
import { polarity } from "./polarity";
import { transient } from "./transient";
import { trim } from "./trim";
import { width } from "./width";

/** Every processor, once, in the order in which a chain usually holds them. */
export const processorTypes: readonly ProcessorType[] = [
  cancel,
  trim,
  polarity,
  rotation,
  delay,
  gate,
  expander,
  dynamicEq,
  ringTamer,
  eq,
  compressor,
  bandCompressor,
  transient,
  saturation,
  harmonics,
  lowHarmonics,
  air,
  reducer,
  clipper,
  limiter,
  width,
  reverb,
  shortSpace,
  recordedSpace,
  chopper,
  pan,
];

/**
 * The declaration of a processor.
 * Errors  TypeError for an unknown type, with the known ones.
 */
export function processorType(type: string): ProcessorType {
  const found = processorTypes.find((p) => p.type === type);
  if (!found)
    throw new TypeError(
      `unknown processor "${type}"; known: ${processorTypes.map((p) => p.type).join(", ")}`,
    );
  return found;
}

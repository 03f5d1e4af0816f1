import { processorOf, usualPan } from "./create";
import type { Operation } from "./operations";
import type { Mic } from "./song";

/** What a mic is. */
type Labelled = Partial<Pick<Mic, "piece" | "place">>;

/**
 * Operations that follow a mic's new label beyond the label itself: its pan, as long as it is still where the old label put
 * it, so that nobody has set it by hand.
 */
export function followLabel(mic: Mic, label: Labelled): Operation[] {
  const pan = processorOf(mic, "pan");
  const [now, wanted] = [pan.params["position"], usualPan({ ...mic, ...label })];
  if (now !== usualPan(mic) || now === wanted) return [];
  return [{ op: "setProcessor", owner: mic.id, processor: pan.id, params: { position: wanted } }];
}

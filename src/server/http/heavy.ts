import { Semaphore } from "async-mutex";
import { respond } from "./respond";

/** Work that holds half a minute of every mic in memory, some hundred MB each; more of it waits its turn. */
const atOnce = 3;
const turns = new Semaphore(atOnce);

/** As `respond`, for what holds much of a song in memory. */
export const respondHeavy = (work: () => Promise<Response | object>): Promise<Response> =>
  respond(() => turns.runExclusive(work));

import { Semaphore } from "async-mutex";
import { respond } from "./respond";

type Work = () => Promise<Response | object>;
const inTurns = (atOnce: number) => {
  const turns = new Semaphore(atOnce);
  return (work: Work): Promise<Response> => respond(() => turns.runExclusive(work));
};

/** As `respond`, for work that holds half a minute of every mic in memory, some hundred MB each, and takes seconds: more of it waits its turn. */
export const respondHeavy = inTurns(3);

/** As `respond`, for what is played: as large in memory, but told at once, and never behind what takes seconds. */
export const respondPlayed = inTurns(4);

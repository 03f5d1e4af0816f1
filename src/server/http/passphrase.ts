import { timingSafeEqual } from "node:crypto";
import { Mutex } from "async-mutex";
import { AppError } from "../errors";
import { sessionOf } from "./guard";

/** What a wrong passphrase costs, ms, one after another for all who guess; so many may wait. */
const cost = 500;
const mostWaiting = 10;
const wrong = new Mutex();
let waiting = 0;

/**
 * Checks a passphrase. A wrong one is answered half a second later and no two at once, so that nobody tries more than two a second, however
 * many connections are open; while too many wait, none is looked at. Errors  AppError "refused".
 */
export async function checkPassphrase(given: string, wanted: string): Promise<void> {
  if (waiting >= mostWaiting)
    throw new AppError("refused", "Too many passphrases were tried just now; try again in some seconds.");
  if (timingSafeEqual(Buffer.from(sessionOf(given)), Buffer.from(sessionOf(wanted)))) return;
  waiting++;
  await wrong.runExclusive(() => new Promise((resolve) => setTimeout(resolve, cost)));
  waiting--;
  throw new AppError("refused", "That is not the passphrase.");
}

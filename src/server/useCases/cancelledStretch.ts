import { resolveParams, type AnyValues } from "../../core/params";
import { processorType } from "../../core/processors";
import { onThread } from "../analysis/threads";
import { AppError } from "../errors";
import { stretchAround, type MadeStretch } from "./stretchAround";

/** Values of Cancel as they stand in a query. Errors  AppError "invalid". */
function valuesOf(query: URLSearchParams): AnyValues {
  try {
    return resolveParams(
      processorType("cancel").params,
      Object.fromEntries([...query].map(([name, text]) => [name, Number(text)])),
    );
  } catch (error) {
    throw new AppError("invalid", `${(error as Error).message}. Nothing was changed.`);
  }
}

/** A mic as Cancel leaves it with given values, over the stretch by which it is judged. Errors  AppError. */
export async function cancelledStretch(
  songId: string,
  mic: string,
  query: URLSearchParams,
): Promise<MadeStretch> {
  const values = valuesOf(query);
  const { song, from, stretch } = await stretchAround(songId, mic);
  return { from, channels: await onThread("cancelled", { song, mic, values, from, stretch }) };
}

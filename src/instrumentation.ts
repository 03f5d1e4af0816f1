/** Runs once when the server starts: the web process starts a worker of its own, which ends with it. */
export async function register(): Promise<void> {
  if (
    process.env["NEXT_RUNTIME"] !== "nodejs" ||
    process.env["JUBO_OWN_WORKER"] === "no" ||
    !process.env["DATABASE_URL"]
  )
    return;
  const { startOwnWorker } = await import("./server/jobs/ownWorker");
  startOwnWorker();
}

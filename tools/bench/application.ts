// Benchmarks of the running application at BASE_URL: import, analysis, render, opening and seeking in a real browser, and
// how they grow with minutes and mics. The song is the simulated demo kit, repeated.
// usage: bench application [MICSxMINUTES …]
import { base, breathe, post, run, upload } from "./client";
import { listen } from "./listen";
import { watchMemory } from "./processes";
import { note, save, secondsOf } from "./table";
import { isVast, takes } from "./takes";

/** From so many mic minutes on takes are made one by one, and making them is part of the time of the import. */
const heldMost = 400;

/** Does some work, and notes the most memory that each process of the application took meanwhile. */
async function watched<T>(what: string, work: () => Promise<T>): Promise<T> {
  const memory = watchMemory();
  const result = await work();
  for (const { name, most } of memory())
    note({ name: `${what}: memory of the ${name}, most`, value: most, unit: "MB" });
  return result;
}

/** What has no room on this machine is refused in words: then it is said, and the rest is measured. */
async function analyse(id: string, label: string, mics: number, minutes: number): Promise<void> {
  try {
    const analysing = await secondsOf(() => run(id, "analyse"));
    note({
      name: `${label}: analysis`,
      value: analysing,
      unit: "s",
      ...(mics === 24 && minutes === 4 ? { budget: "20" } : {}),
    });
    note({ name: "  per mic and minute", value: (1000 * analysing) / (mics * minutes), unit: "ms" });
  } catch (error) {
    if (!isVast(mics, minutes)) throw error;
    process.stdout.write(`${label}: ${String(error)}\n`);
  }
}

async function measure(mics: number, minutes: number): Promise<void> {
  const label = `${mics} mics × ${minutes} min`;
  const made = takes(mics, minutes);
  const held = mics * minutes <= heldMost;
  const list = held ? [...made] : made;
  await breathe();
  const { id } = await post<{ id: string }>("/api/songs", { title: label });
  let megabytes = 0;
  const importing = await watched(`${label}: import`, () =>
    secondsOf(async () => {
      megabytes = (await upload(id, list)) / 1e6;
    }),
  );
  const how = isVast(mics, minutes)
    ? ", parts that repeat stored once"
    : held
      ? ""
      : ", made as they are sent";
  note({ name: `${label}: import of ${megabytes.toFixed(0)} MB${how}`, value: importing, unit: "s" });
  note({
    name: "  over loopback",
    value: megabytes / importing,
    unit: "MB/s",
    ...(held ? { budget: "100" } : {}),
  });
  if (Array.isArray(list)) list.length = 0;
  await watched(`${label}: analysis`, () => analyse(id, label, mics, minutes));
  const rendering = await watched(`${label}: render`, () => secondsOf(() => run(id, "export")));
  note({ name: `${label}: render of the kit`, value: rendering, unit: "s" });
  note({ name: "  per mic and minute", value: (1000 * rendering) / (mics * minutes), unit: "ms" });
  await listen(id, label, minutes);
  await fetch(`${base}/api/songs/${id}`, { method: "DELETE" });
}

const sizes = process.argv.slice(2).map((size) => size.split("x").map(Number) as [number, number]);
for (const [mics, minutes] of sizes.length > 0
  ? sizes
  : ([
      [12, 1],
      [12, 4],
      [24, 4],
    ] as const))
  await measure(mics, minutes);
save("bench-application");

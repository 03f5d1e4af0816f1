import { readdirSync, readFileSync, writeFileSync } from "node:fs";

/** Processes of the application on this machine by what they are. */
function processes(): { readonly name: string; readonly id: string }[] {
  return readdirSync("/proc").flatMap((id) => {
    if (!/^\d+$/.test(id)) return [];
    try {
      const line = readFileSync(`/proc/${id}/cmdline`, "utf8").replaceAll("\0", " ");
      if (line.includes("dist/server.mjs")) return [{ name: "server", id }];
      if (line.includes("--type=renderer")) return [{ name: "page", id }];
      return line.includes("dist/cli.mjs worker") ? [{ name: "worker", id }] : [];
    } catch {
      return []; // ended meanwhile
    }
  });
}

const statusMb = (id: string, field: string): number => {
  try {
    const status = readFileSync(`/proc/${id}/status`, "utf8");
    return Number(new RegExp(`${field}:\\s+(\\d+)`).exec(status)?.[1] ?? 0) / 1024;
  } catch {
    return 0; // ended meanwhile
  }
};

/** What the server, its worker and the pages that are open hold of memory now, MB. Source  proc(5), VmRSS. */
export function residentMemory(): Readonly<Record<string, number>> {
  const held: Record<string, number> = {};
  for (const { name, id } of processes()) held[name] = (held[name] ?? 0) + statusMb(id, "VmRSS");
  return held;
}

/** Begins to watch how much memory they take; the result tells the most of each since then, MB. Source  proc(5), clear_refs and VmHWM. */
export function watchMemory(): () => { readonly name: string; readonly most: number }[] {
  for (const { id } of processes()) writeFileSync(`/proc/${id}/clear_refs`, "5");
  return () => processes().map(({ name, id }) => ({ name, most: statusMb(id, "VmHWM") }));
}

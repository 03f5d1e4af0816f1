import { readdirSync, readFileSync, writeFileSync } from "node:fs";

/** Processes of the application on this machine by what they are. */
function processes(): { readonly name: string; readonly id: string }[] {
  return readdirSync("/proc").flatMap((id) => {
    if (!/^\d+$/.test(id)) return [];
    try {
      const line = readFileSync(`/proc/${id}/cmdline`, "utf8").replaceAll("\0", " ");
      if (line.includes("dist/server.mjs")) return [{ name: "server", id }];
      return line.includes("dist/cli.mjs worker") ? [{ name: "worker", id }] : [];
    } catch {
      return []; // ended meanwhile
    }
  });
}

/** Begins to watch how much memory they take; the result tells the most of each since then, MB. Source  proc(5), clear_refs and VmHWM. */
export function watchMemory(): () => { readonly name: string; readonly most: number }[] {
  for (const { id } of processes()) writeFileSync(`/proc/${id}/clear_refs`, "5");
  return () =>
    processes().map(({ name, id }) => {
      const status = readFileSync(`/proc/${id}/status`, "utf8");
      return { name, most: Number(/VmHWM:\s+(\d+)/.exec(status)?.[1] ?? 0) / 1024 };
    });
}

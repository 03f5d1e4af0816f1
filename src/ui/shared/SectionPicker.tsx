"use client";
import { useSong } from "./songStore";
import { useSectionChoice } from "./sectionChoice";

/** Chooses whether settings hold for the whole song or for one section only. */
export function SectionPicker({ differs }: { differs: readonly string[] }) {
  const sections = useSong((s) => s.song!.sections);
  const chosen = useSectionChoice((s) => s.section);
  if (sections.length === 0) return null;
  const known = sections.some((s) => s.id === chosen) ? chosen : null;
  return (
    <select
      className={`form-select form-select-sm section-picker ${known ? "own" : ""}`}
      aria-label="Where the values hold"
      title="Values may differ by section; they change at its borders without a click"
      value={known ?? ""}
      onChange={(event) => {
        event.target.blur(); // the keys are the page's again
        useSectionChoice.setState({ section: event.target.value || null });
      }}
    >
      <option value="">whole song</option>
      {sections.map((s) => (
        <option key={s.id} value={s.id}>
          {differs.includes(s.id) ? "• " : ""}
          {s.name}
        </option>
      ))}
    </select>
  );
}

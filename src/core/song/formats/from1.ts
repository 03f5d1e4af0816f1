import { carried, changed, each, type FormatStep, type Json } from "./step";

const numbered = (sections: unknown): unknown => {
  let n = 0;
  return each(sections, (s) => ({ id: `section${++n}`, ...s }));
};

/** Sections got ids, by which values differ; a record to compare with came in. */
export const from1: FormatStep = {
  song: (song) => ({ referenceRecord: null, ...song, sections: numbered(song["sections"]) }),
  operation: carried(
    (mic: Json) => mic,
    (values) => changed(values, "sections", numbered),
  ),
};

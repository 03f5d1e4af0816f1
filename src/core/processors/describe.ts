import { isChoice, type ParamSpec } from "../params";
import { processorTypes } from ".";

const range = (spec: ParamSpec): string =>
  isChoice(spec) ? spec.choices.join(", ") : `${spec.min} to ${spec.max}${spec.unit ? ` ${spec.unit}` : ""}`;
const usual = (spec: ParamSpec): string =>
  isChoice(spec) ? spec.default : `${spec.default}${spec.unit ? ` ${spec.unit}` : ""}`;

/** The reference page of all processors in Markdown, from their declarations; docs/processors.md holds it. */
export function describeProcessors(): string {
  const parts = processorTypes.map(({ type, label, help, params }) => {
    const rows = Object.entries(params).map(
      ([name, spec]) => `| \`${name}\` | ${spec.label} | ${range(spec)} | ${usual(spec)} | ${spec.help} |`,
    );
    return [
      `## ${label} (\`${type}\`)`,
      "",
      help,
      "",
      "| name | label | range | default | what it does |",
      "|---|---|---|---|---|",
      ...rows,
    ].join("\n");
  });
  return [
    "# Processors and their parameters",
    "",
    "Made by `./jubo params --markdown` from the declarations in `src/core/processors`; a test holds both equal.",
    "",
    parts.join("\n\n"),
    "",
  ].join("\n");
}

import { parseArgs } from "node:util";
import { isChoice } from "../../core/params";
import { processorType, processorTypes } from "../../core/processors";
import { describeProcessors } from "../../core/processors/describe";
import { print, printJson, type Command } from "../command";

export const params: Command = {
  usage: "params [TYPE] [--json | --markdown]",
  help: "Every processor with its parameters, units, ranges and defaults.",
  async run(args) {
    const { values, positionals } = parseArgs({
      args,
      allowPositionals: true,
      options: { json: { type: "boolean" }, markdown: { type: "boolean" } },
    });
    if (values.markdown) return print(describeProcessors());
    const types = positionals.length > 0 ? positionals.map(processorType) : processorTypes;
    if (values.json)
      return printJson(
        types.map(({ type, label, help, params: table }) => ({ type, label, help, params: table })),
      );
    for (const { type, help, params: table } of types) {
      print(`${type}: ${help}`);
      for (const [name, p] of Object.entries(table))
        print(
          `  ${name.padEnd(20)} ${isChoice(p) ? `${p.choices.join(" | ")} (${p.default})` : `${p.min} … ${p.max} ${p.unit} (${p.default})`}  ${p.help}`,
        );
    }
  },
};

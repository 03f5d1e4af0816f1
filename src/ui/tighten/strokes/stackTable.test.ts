import { expect, test } from "@jest/globals";
import { stackStrokes } from "../../../core/hits/stack";
import { stackTable } from "./stackTable";

test("strokes are told in the order of the picture, with their levels from their start on", () => {
  const rate = 1000;
  const x = new Float32Array(2000);
  // Two strokes that begin at full scale and at half of it, and stay there for 15 ms.
  x.fill(1, 500, 515);
  x.fill(0.5, 1200, 1215);
  const table = stackTable(stackStrokes(x, [0.5, 1.2], rate), [1, 0], [0.5, 1.2]);
  expect(table.rows.map((r) => r[0])).toEqual(["1.200", "0.500"]);
  const at = (ms: string) => table.head.indexOf(`${ms} ms, dBFS`);
  expect(table.rows[0]![at("5")]).toBe("−6.0");
  expect(table.rows[1]![at("0")]).toBe("0.0");
  expect(table.rows[1]![at("−10")]).toBe("−90.0");
  expect(table.rows[1]![at("40")]).toBe("−90.0");
});

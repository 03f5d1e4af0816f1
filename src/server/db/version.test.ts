import { expect, test } from "@jest/globals";
import { pool } from "./pool";
import { withDatabase } from "../testing/database";
import { checkVersion, newestKnown } from "./version";

withDatabase("programs of different versions on one database", () => {
  test("one of the same version works, an older one and one before its time are told so", async () => {
    expect(newestKnown()).toBeGreaterThanOrEqual(12);
    await checkVersion(pool());
    await expect(checkVersion(pool(), newestKnown() - 1)).rejects.toThrow(
      /worker is of an older version than the database/,
    );
    await expect(checkVersion(pool(), newestKnown() + 1)).rejects.toThrow(/start the application once/);
  });
});

import { expect, test } from "@jest/globals";
import { AppError } from "../errors";
import { respondHeavy, respondPlayed } from "./heavy";

test("of many that come at once three are under way, all are answered, and one that fails makes room", async () => {
  let [now, most] = [0, 0];
  const work = async (n: number) => {
    most = Math.max(most, ++now);
    await new Promise((resolve) => setTimeout(resolve, 5));
    now--;
    if (n % 4 === 0) throw new AppError("invalid", "no");
    return { n };
  };
  const answers = await Promise.all(Array.from({ length: 12 }, (_, n) => respondHeavy(() => work(n))));
  expect(answers.map((a) => a.status)).toEqual(
    Array.from({ length: 12 }, (_, n) => (n % 4 === 0 ? 400 : 200)),
  );
  expect([now, most]).toEqual([0, 3]);
});

// Songs that play would fall silent behind three measurements of the kit.
test("what is played does not wait behind work that takes long", async () => {
  let end = () => {};
  const long = new Promise<object>((resolve) => (end = () => resolve({})));
  const measured = Array.from({ length: 6 }, () => respondHeavy(() => long));
  expect(await (await respondPlayed(async () => ({ frames: 128 }))).json()).toEqual({ frames: 128 });
  end();
  expect((await Promise.all(measured)).map((a) => a.status)).toEqual(Array(6).fill(200));
});

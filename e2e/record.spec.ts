import { expect, test } from "@playwright/test";
import { copyOf, expectSaved, readSong } from "./songApi";

test("the kit is laid over a record, over the song and over a section; without a record that is said", async ({
  page,
  request,
}) => {
  test.setTimeout(400_000);
  const id = await copyOf(request, "Ferry Room Stomp", "Beside a record");
  const refused = await request.get(`/api/songs/${id}/record`);
  expect(refused.status()).toBe(400);
  expect(await refused.text()).toContain("No record is chosen");
  // A room mic stands in for a record: it is other music from now on.
  const { song } = await readSong(request, id);
  const room = song.mics.find((m) => m.file.startsWith("12 room"))!;
  await page.goto(`/songs/${id}`);
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.getByRole("combobox", { name: `Drum of ${room.file}` }).selectOption("context");
  await expectSaved(page);
  await page.keyboard.press("6");
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await page.getByRole("combobox", { name: "Record" }).selectOption(room.id);
  await page.getByRole("button", { name: "Lay the kit over the record" }).click();
  await expect(page.getByTestId("beside-record")).toContainText(/the kit has (.*dB at|as much)/, {
    timeout: 60_000,
  });
  const table = page.getByRole("table", { name: "Kit and record" });
  await expect(table.getByRole("row", { name: /^Loudness −?[\d.]+ LUFS −?[\d.]+ LUFS/ })).toBeVisible();
  const whole = await table.textContent();
  await page.getByRole("combobox", { name: "What of the kit" }).selectOption({ index: 1 });
  await page.getByRole("button", { name: "Lay the kit over the record" }).click();
  await expect.poll(() => table.textContent(), { timeout: 60_000 }).not.toBe(whole);
  expect((await request.get(`/api/songs/${id}/record?section=none`)).status()).toBe(404);
  // Four broad bands towards it, told, and one step.
  const kit = async () => (await readSong(request, id)).song.buses.find((b) => b.output === null)!.chain;
  const before = await kit();
  await page.getByRole("button", { name: "Levels", exact: true }).click();
  const finish = page.getByRole("region", { name: "Finish of the kit" });
  const told = finish.getByTestId("finish-eq");
  // Since the label was changed the kit is found anew; what is fitted meanwhile is not set.
  await expect(async () => {
    await finish.getByRole("button", { name: "Broad EQ" }).click();
    await expect(told).toContainText("mean difference from the record", { timeout: 30_000 });
  }).toPass({ timeout: 150_000 });
  const [without, withIt] = /octave ([\d.]+) dB, with it ([\d.]+)/
    .exec((await told.textContent())!)!
    .slice(1)
    .map(Number);
  expect(withIt!).toBeLessThan(without!);
  await expectSaved(page);
  expect((await kit()).filter((p) => p.type === "eq" && p.on)).toHaveLength(
    1 + before.filter((p) => p.type === "eq" && p.on).length,
  );
  await page.keyboard.press("Control+z");
  await expectSaved(page);
  expect(await kit()).toEqual(before);
});

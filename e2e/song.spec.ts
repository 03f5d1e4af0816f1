import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { expect, test, type Page } from "@playwright/test";
import { writeKit } from "./kit";

const bench = (page: Page) => page.getByRole("main");
const saved = (page: Page) => expect(page.getByText("saved", { exact: true })).toBeVisible();
const step = (page: Page, name: string) =>
  page
    .getByRole("navigation", { name: "Steps" })
    .getByRole("button", { name: new RegExp(`^${name}`) })
    .click();
const takeAll = async (page: Page) => {
  await page.getByRole("button", { name: /^Take all/ }).click();
  await expect(page.getByRole("button", { name: "All decided" })).toBeVisible();
};

test("the demo song is there, plays, and shows what it measures", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press(" ");
  await expect(page.getByTestId("time")).toHaveText(/0:0[1-9]/, { timeout: 10_000 });
  await expect(page.getByTestId("loudness")).toHaveText(/−\d\d\.\d/);
  await page.keyboard.press(" ");
  await expect(page.getByRole("button", { name: "Play", exact: true })).toBeVisible();
});

test("from a folder of files to a delivered kit", async ({ page }) => {
  test.setTimeout(240_000);
  const kit = writeKit("journey", 57, 6, true);
  await page.goto("/");
  await page.getByLabel("Title of the new song").fill("Journey");
  await page.getByRole("button", { name: "New song" }).click();
  await expect(page.getByText("Drop the folder or ZIP of mic files here")).toBeVisible();
  await page.getByLabel("Audio files").setInputFiles(kit.files);
  await expect(page.getByText(/broken\.wav.*ends too early/)).toBeVisible({ timeout: 30_000 });
  await expect(page.getByText(`${kit.files.length - 1} of ${kit.files.length} in`)).toBeVisible();
  await expect(page.getByText(/\d+ strokes found/)).toBeVisible({ timeout: 60_000 });

  await test.step("gather: a label is corrected and taken back", async () => {
    const table = page.getByRole("table", { name: "Mics" });
    await expect(table.getByRole("row")).toHaveCount(kit.files.length);
    const first = table.getByLabel(/^Drum of/).first();
    const before = await first.inputValue();
    await first.selectOption("room");
    await expect(table.getByText("by hand")).toBeVisible();
    await page.getByRole("button", { name: /^Undo/ }).click();
    await expect(first).toHaveValue(before);
    await takeAll(page);
  });

  await test.step("align: the snare's bottom mic", async () => {
    await step(page, "Align");
    await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
    await expect(page.getByRole("heading", { name: /against/ })).toContainText(/over \d+ strokes/, {
      timeout: 20_000,
    });
    await page.getByRole("button", { name: "Take", exact: true }).click();
    await expect(page.getByText("taken")).toBeVisible();
    await page.getByLabel("Delay: smp, ms or cm").fill("41 cm");
    await page.keyboard.press("Enter");
    await expect(bench(page).getByText(/\+1\.\d\d ms, \+4[01]\.\d cm/)).toBeVisible();
    await page.getByLabel("Delay: smp, ms or cm").fill("9 lightyears");
    await page.keyboard.press("Enter");
    await expect(page.getByText(/is no value in smp/)).toBeVisible();
    await page.keyboard.press("Escape");
    await page.getByRole("button", { name: /^Undo/ }).click();
    await page.keyboard.press("k");
    await takeAll(page);
  });

  await test.step("tighten: the spread shrinks", async () => {
    await step(page, "Tighten");
    const figure = (name: string) => bench(page).getByLabel("Figures").getByText(name).locator("+ dd");
    const played = parseFloat(await figure("Spread as played").innerText());
    await page.getByLabel("Strength, typed").fill("100");
    await page.keyboard.press("Enter");
    await expect
      .poll(async () => parseFloat(await figure("Spread now").innerText()))
      .toBeLessThan(played * 0.75);
  });

  await test.step("clean: the threshold counts as it moves", async () => {
    await step(page, "Clean");
    await takeAll(page);
    await page
      .getByRole("region", { name: "Where the cymbals sit" })
      .getByRole("button", { name: "Measure" })
      .click();
    await expect(page.getByRole("img", { name: /^Hat: overheads \d+ % left/ })).toBeVisible();
    await page.getByRole("button", { name: /^Snare, 2 mics/ }).click();
    await expect(
      page
        .getByRole("region", { name: /^Ways to clean/ })
        .getByRole("cell", { name: /^(\d+)\/\1$/ })
        .first(),
    ).toBeVisible();
    await expect(page.getByTestId("verdict")).toContainText(
      /main \d+\/\d+, ghosts \d+\/\d+, false opens \d+/,
    );
    const gate = page.getByRole("region", { name: /^Gate of/ });
    await gate.getByLabel("Threshold, typed").fill("-70");
    await page.keyboard.press("Enter");
    await expect(page.getByTestId("verdict")).toContainText(/main (\d+)\/\1/);
    await page.keyboard.press("k");
  });

  await test.step("shape and blend", async () => {
    await step(page, "Shape");
    await takeAll(page);
    await page.getByRole("button", { name: /^Kick, \d mics/ }).click();
    await page
      .getByRole("region", { name: /^Chain of/ })
      .getByRole("button", { name: "Compressor", exact: true })
      .click();
    await expect(page.getByTestId("effect")).toContainText(/median \d+\.\d dB of reduction/, {
      timeout: 20_000,
    });
    await step(page, "Blend");
    await takeAll(page);
    const level = page.getByLabel(/^Level of .*typed/).first();
    await level.fill("-2.5");
    await page.keyboard.press("Enter");
    await saved(page);
  });

  await test.step("everything is there after a reload", async () => {
    await page.reload();
    await step(page, "Blend");
    await expect(page.getByLabel(/^Level of .*typed/).first()).toHaveValue("−2.5 dB");
    await expect(page.getByRole("button", { name: "All decided" })).toBeVisible();
    await expect(page.getByRole("button", { name: /^Undo: level/ })).toBeEnabled();
  });

  await test.step("deliver: 24-bit WAV that sox reads, stems, report", async () => {
    await step(page, "Deliver");
    await page.getByRole("button", { name: "Render the kit" }).click();
    const files = page.getByRole("table", { name: "Rendered files" });
    await expect(files.getByRole("link", { name: "kit.wav" })).toBeVisible({ timeout: 90_000 });
    await expect(page.getByRole("table", { name: "Checks" })).toContainText("LUFS");
    const download = page.waitForEvent("download");
    await files.getByRole("link", { name: "kit.wav" }).click();
    const path = await (await download).path();
    const info = execFileSync("sox", ["--i", path], { encoding: "utf8" });
    expect(info).toContain("24-bit");
    expect(info).toContain("Channels       : 2");
    await expect(files.getByRole("link", { name: "report.html" })).toBeVisible();
    await expect(files.getByRole("row")).toHaveCount(kit.files.length - 1 + 2);
    expect(readFileSync(path).length).toBeGreaterThan(1_000_000);
  });
});

test("a second tab with the old song is told and can load it anew", async ({ context }) => {
  const open = async () => {
    const page = await context.newPage();
    await page.goto("/");
    await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
    await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
    return page;
  };
  const [first, second] = [await open(), await open()];
  await first.getByRole("button", { name: "Mute 01 KD in", exact: true }).click();
  await saved(first);
  await second.getByRole("button", { name: "Mute 05 HH", exact: true }).click();
  await expect(second.getByText(/changed elsewhere/)).toBeVisible();
  await second.getByRole("button", { name: "Load the song anew" }).click();
  await expect(second.getByRole("button", { name: "Mute 01 KD in", exact: true })).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await expect(second.getByRole("button", { name: "Mute 05 HH", exact: true })).toHaveAttribute(
    "aria-pressed",
    "false",
  );
  await first.getByRole("button", { name: /^Undo/ }).click();
  await expect(first.getByRole("button", { name: "Mute 01 KD in", exact: true })).toHaveAttribute(
    "aria-pressed",
    "false",
  );
});

test("an export can be stopped and leaves no files", async ({ page, request }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await step(page, "Deliver");
  const id = new URL(page.url()).pathname.split("/").pop()!;
  const done = async () => {
    const { tasks } = (await (await request.get(`/api/songs/${id}/tasks`)).json()) as {
      tasks: { state: string }[];
    };
    return tasks.filter((t) => t.state === "done").length;
  };
  const before = await done();
  await page.getByRole("button", { name: "Render the kit" }).click();
  await page.getByRole("main").getByRole("button", { name: "Stop" }).click();
  await expect(page.getByText("Stopped. Nothing was changed.")).toBeVisible({ timeout: 20_000 });
  expect(await done()).toBe(before);
});

test("all by keyboard: steps, drums, sheet of shortcuts", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  for (const [key, name] of [
    ["2", "align"],
    ["5", "shape"],
    ["7", "deliver"],
  ])
    await page.keyboard
      .press(key!)
      .then(() => expect(page.getByRole("main", { name: `Bench: ${name}` })).toBeVisible());
  await page.getByRole("button", { name: /^Snare, 2 mics/ }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: /^Snare, 2 mics/ })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("?");
  await expect(page.getByRole("dialog")).toContainText("Compare: with or without");
});

test("nothing essential is cut off and no page scrolls sideways at 1280x800", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  for (let s = 1; s <= 7; s++) {
    await page.keyboard.press(String(s));
    await page.waitForTimeout(150);
    const size = await page.evaluate(() => [
      document.documentElement.scrollWidth,
      document.documentElement.scrollHeight,
    ]);
    expect(size).toEqual([1280, 800]);
    const wide = await page.evaluate(() =>
      [...document.querySelectorAll(".evidence, .settings")].map((e) => e.scrollWidth - e.clientWidth),
    );
    expect(Math.max(0, ...wide), `step ${s}`).toBe(0);
  }
});

test("reload, back and a link come to the same step and mic", async ({ page }) => {
  await page.goto("/");
  await page.getByRole("link", { name: "Ferry Room Stomp" }).click();
  await expect(page.getByRole("region", { name: "Kit plan" })).toBeVisible();
  await page.keyboard.press("5");
  await page
    .getByRole("button", { name: /^Snare, / })
    .first()
    .click();
  await expect(page).toHaveURL(/\?step=shape&mic=/);
  const snare = page.url();
  await page.keyboard.press("7");
  await expect(page).toHaveURL(/step=deliver/);
  await page
    .getByRole("button", { name: /^Kick, / })
    .first()
    .click();
  await page.goBack();
  await expect(page).toHaveURL(snare);
  await expect(page.getByRole("button", { name: /^Snare, / }).first()).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await page.goForward();
  await expect(page).toHaveURL(/step=deliver/);
  await expect(page.getByRole("button", { name: "Render the kit" })).toBeVisible();
  await page.goBack();
  await page.goBack();
  await expect(page.getByRole("region", { name: "Bring in files" })).toBeVisible();
  await page.goForward();
  await expect(page.getByRole("region", { name: /^Chain of/ })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("button", { name: /^Snare, / }).first()).toHaveAttribute(
    "aria-pressed",
    "true",
  );
  await expect(page.getByRole("region", { name: /^Chain of/ })).toBeVisible();
  await page.goto("/");
  await page.goto(snare);
  await expect(page.getByRole("region", { name: /^Chain of/ })).toBeVisible();
});

test("songs are renamed, copied, sorted, deleted and brought back in the list", async ({ page, request }) => {
  const made = await request.post("/api/songs", { data: { title: "Aardvark march" } });
  expect(made.ok()).toBe(true);
  await page.goto("/");
  const list = page.getByRole("table", { name: "Songs" });
  await list.getByRole("button", { name: "Rename Aardvark march" }).click();
  await list.getByLabel("New title of Aardvark march").fill("Abacus march");
  await page.keyboard.press("Enter");
  await expect(list.getByRole("link", { name: "Abacus march" })).toBeVisible();
  await list.getByRole("button", { name: "Copy Abacus march" }).click();
  await expect(list.getByRole("link", { name: "Abacus march, copy" })).toBeVisible();
  await list.getByRole("button", { name: /^Song/ }).click();
  await expect(list.getByRole("columnheader", { name: /^Song/ })).toHaveAttribute("aria-sort", "ascending");
  page.on("dialog", (dialog) => void dialog.accept());
  await list.getByRole("button", { name: "Delete Abacus march, copy" }).click();
  await expect(list.getByRole("link", { name: "Abacus march, copy" })).toBeHidden();
  await page.getByText(/deleted, kept for 30 days/).click();
  await page.getByRole("button", { name: "Bring Abacus march, copy back" }).click();
  await expect(list.getByRole("link", { name: "Abacus march, copy" })).toBeVisible();
});

import { afterEach, describe, expect, test } from "@jest/globals";
import { refusalOf, sessionCookie, sessionOf } from "./guard";
import { withoutForgedLogin } from "./login";

const ask = (method: string, headers: Record<string, string>) =>
  refusalOf(new Request("http://127.0.0.1:3210/api/songs", { method, headers }))?.status ?? 200;
const host = "127.0.0.1:3210";

describe("guard", () => {
  afterEach(() => {
    delete process.env["JUBO_PASSPHRASE"];
    delete process.env["JUBO_HOST"];
  });
  test("own names are let in on loopback, others are not", () => {
    for (const name of [host, "localhost:3210", "[::1]:3210"]) expect(ask("GET", { host: name })).toBe(200);
    for (const name of ["evil.example", "127.0.0.1.evil.example", ""])
      expect(ask("GET", { host: name })).toBe(421);
  });
  test("behind a proxy the name that it has is let in as well, and no other", () => {
    process.env["JUBO_NAME"] = "kit.studio.example";
    expect(ask("GET", { host: "kit.studio.example" })).toBe(200);
    expect(ask("POST", { host: "kit.studio.example", origin: "https://kit.studio.example" })).toBe(200);
    expect(ask("GET", { host: "studio.example" })).toBe(421);
    expect(ask("POST", { host: "kit.studio.example", origin: "https://evil.example" })).toBe(403);
    delete process.env["JUBO_NAME"];
  });
  test("changes come from our own pages only", () => {
    expect(ask("POST", { host, origin: `http://${host}` })).toBe(200);
    expect(ask("POST", { host })).toBe(200);
    expect(ask("PUT", { host, origin: "http://evil.example" })).toBe(403);
    expect(ask("PUT", { host, origin: "null" })).toBe(403);
    expect(ask("DELETE", { host, "sec-fetch-site": "cross-site" })).toBe(403);
    expect(ask("GET", { host, origin: "http://evil.example" })).toBe(200);
  });
  test("with a passphrase every request needs its session", () => {
    process.env["JUBO_PASSPHRASE"] = "a long walk home";
    process.env["JUBO_HOST"] = "0.0.0.0";
    const cookie = (value: string) => ({ host: "studio:3210", cookie: `x=1; ${sessionCookie}=${value}` });
    expect(ask("GET", { host: "studio:3210" })).toBe(401);
    expect(ask("GET", cookie("forged"))).toBe(401);
    // As long in signs as the right one, not in bytes.
    expect(ask("GET", cookie("\u00e9".repeat(sessionOf("").length)))).toBe(401);
    expect(ask("GET", cookie(sessionOf("another")))).toBe(401);
    expect(ask("GET", cookie(sessionOf("a long walk home")))).toBe(200);
  });
  test("where the proxy tells who has logged in, that is needed, or the passphrase where there is one", () => {
    process.env["JUBO_LOGIN_HEADER"] = "X-Studio-User";
    expect(ask("GET", { host })).toBe(403);
    expect(ask("GET", { host, "x-studio-user": "" })).toBe(403);
    expect(ask("GET", { host, "x-studio-user": "ada" })).toBe(200);
    expect(ask("PUT", { host, "x-studio-user": "ada", origin: "http://evil.example" })).toBe(403);
    process.env["JUBO_PASSPHRASE"] = "a long walk home";
    expect(ask("GET", { host })).toBe(401);
    expect(ask("GET", { host, "x-studio-user": "ada" })).toBe(200);
    delete process.env["JUBO_LOGIN_HEADER"];
    expect(ask("GET", { host, "x-studio-user": "ada" })).toBe(401);
  });
  test("only the proxy on this machine is believed", () => {
    process.env["JUBO_LOGIN_HEADER"] = "X-Studio-User";
    const told = (from: string | undefined) => {
      const headers: Record<string, unknown> = { host, "x-studio-user": "ada" };
      withoutForgedLogin(headers, from);
      return headers["x-studio-user"];
    };
    for (const own of ["127.0.0.1", "::1", "::ffff:127.0.0.1"]) expect(told(own)).toBe("ada");
    for (const other of ["10.0.0.7", "::ffff:10.0.0.7", "", undefined]) expect(told(other)).toBeUndefined();
    delete process.env["JUBO_LOGIN_HEADER"];
  });
});

import { createHash, createHmac, timingSafeEqual } from "node:crypto";
import { parse } from "cookie";
import { loginHeader, loopback } from "./login";

/** What the session cookie holds for a passphrase; nobody can make it without knowing it. */
export const sessionOf = (passphrase: string): string =>
  createHmac("sha256", passphrase).update("jubo session 1").digest("base64url");
export const sessionCookie = "jubo_session";

function isOwnHost(host: string | null): boolean {
  const wanted = process.env["JUBO_HOST"] ?? "127.0.0.1";
  const name = (host ?? "").replace(/:\d+$/, "").replace(/^\[|\]$/g, "");
  // Behind a proxy on this machine it is asked for by the name that the proxy has.
  const proxied = process.env["JUBO_NAME"];
  // Bound to the network names vary, and every request needs the session.
  return !loopback.includes(wanted) || loopback.includes(name) || (proxied !== undefined && name === proxied);
}

/** Compared as digests, which are equally long whatever bytes came. */
const sameText = (a: string, b: string): boolean => timingSafeEqual(digest(a), digest(b));
const digest = (text: string): Buffer => createHash("sha256").update(text).digest();

export type Refusal = { status: 401 | 403 | 421; message: string };

/**
 * Why a request is refused, or null: the Host, so that no rebound name reaches us; the Origin of changes, so that no
 * page elsewhere drives us; the session when a passphrase is set, or the proxy's word that somebody has logged in.
 */
export function refusalOf(request: Request): Refusal | null {
  const { headers, method } = request;
  const host = headers.get("host");
  if (!isOwnHost(host)) return { status: 421, message: "This address does not belong to Jubo." };
  const origin = headers.get("origin");
  const changes = !["GET", "HEAD"].includes(method);
  const foreign = origin === null ? headers.get("sec-fetch-site") === "cross-site" : hostOf(origin) !== host;
  if (changes && foreign) return { status: 403, message: "Changes from other pages are refused." };
  const passphrase = process.env["JUBO_PASSPHRASE"];
  const login = loginHeader();
  if (login && headers.get(login)) return null;
  if (login && !passphrase) return { status: 403, message: "Log in first, where your studio has its login." };
  const session = parse(headers.get("cookie") ?? "")[sessionCookie] ?? "";
  if (passphrase && !sameText(session, sessionOf(passphrase)))
    return { status: 401, message: "The passphrase is needed first." };
  return null;
}

function hostOf(origin: string): string | null {
  try {
    return new URL(origin).host;
  } catch {
    return null; // "null", as sandboxed pages send it
  }
}

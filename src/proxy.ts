import { createHmac, timingSafeEqual } from "node:crypto";
import { NextResponse, type NextRequest } from "next/server";

/** What the session cookie holds for a passphrase; nobody can make it without knowing it. */
export const sessionOf = (passphrase: string): string =>
  createHmac("sha256", passphrase).update("jubo session 1").digest("base64url");
export const sessionCookie = "jubo_session";

const own = (host: string | null): boolean => {
  const wanted = process.env["JUBO_HOST"] ?? "127.0.0.1";
  const name = (host ?? "").replace(/:\d+$/, "").replace(/^\[|\]$/g, "");
  if (["127.0.0.1", "localhost", "::1"].includes(wanted))
    return ["127.0.0.1", "localhost", "::1"].includes(name);
  return true; // bound to the network: names vary, and every request needs the session
};

const sameText = (a: string, b: string): boolean =>
  a.length === b.length && timingSafeEqual(Buffer.from(a), Buffer.from(b));

/**
 * Checks every request before anything else: the Host, so that no rebound name reaches us; the Origin of changes, so
 * that no page elsewhere drives us; the session when a passphrase is set. Sets the content security policy.
 */
export function proxy(request: NextRequest): NextResponse {
  const host = request.headers.get("host");
  if (!own(host)) return new NextResponse("This address does not belong to Jubo.", { status: 421 });
  const origin = request.headers.get("origin");
  const changes = !["GET", "HEAD"].includes(request.method);
  if (changes && origin !== null && new URL(origin).host !== host)
    return new NextResponse("Changes from other pages are refused.", { status: 403 });
  if (changes && origin === null && request.headers.get("sec-fetch-site") === "cross-site")
    return new NextResponse("Changes from other pages are refused.", { status: 403 });
  const passphrase = process.env["JUBO_PASSPHRASE"];
  const path = request.nextUrl.pathname;
  if (passphrase && path !== "/enter" && path !== "/api/session") {
    const cookie = request.cookies.get(sessionCookie)?.value ?? "";
    if (!sameText(cookie, sessionOf(passphrase))) {
      if (path.startsWith("/api/"))
        return new NextResponse("The passphrase is needed first.", { status: 401 });
      return NextResponse.redirect(new URL("/enter", request.url));
    }
  }
  const nonce = Buffer.from(crypto.randomUUID()).toString("base64");
  const eval_ = process.env.NODE_ENV === "development" ? " 'unsafe-eval'" : "";
  const policy = `default-src 'self'; script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'${eval_}; style-src 'self' 'unsafe-inline'; img-src 'self' data: blob:; font-src 'self'; connect-src 'self'; worker-src 'self' blob:; object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'`;
  const headers = new Headers(request.headers);
  headers.set("x-nonce", nonce);
  headers.set("content-security-policy", policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set("content-security-policy", policy);
  return response;
}

export const config = { matcher: ["/((?!_next/static|jubo/|favicon).*)"] };

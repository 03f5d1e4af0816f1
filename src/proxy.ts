import { NextResponse, type NextRequest } from "next/server";
import { refusalOf } from "./server/http/guard";

/** Pages and routes that may be reached before the passphrase was given. */
const open = ["/enter", "/api/session"];

/** Checks every request before anything else (guard.ts) and sets the content security policy of every page. */
export function proxy(request: NextRequest): NextResponse {
  const path = request.nextUrl.pathname;
  const refusal = refusalOf(request);
  if (refusal && !(refusal.status === 401 && open.includes(path))) {
    if (refusal.status === 401 && !path.startsWith("/api/"))
      return NextResponse.redirect(new URL("/enter", request.url));
    return new NextResponse(refusal.message, { status: refusal.status });
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

// Uploads check themselves (`guarded`): a body that passes through here would be held in memory whole.
export const config = {
  matcher: ["/((?!_next/static|jubo/|favicon|api/archives$|api/uploads/).*)"],
};

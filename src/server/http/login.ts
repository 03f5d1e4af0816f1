/** Names of this machine for itself. */
export const loopback: readonly string[] = ["127.0.0.1", "localhost", "::1"];

/** Name of the header by which the proxy in front tells who has logged in; null: it tells of nobody. */
export const loginHeader = (): string | null => process.env["JUBO_LOGIN_HEADER"]?.toLowerCase() || null;

/** Takes away what only the proxy on this machine may say. Shape  headers as Node.js has them, by lower-case name. */
export function withoutForgedLogin(headers: Record<string, unknown>, from: string | undefined): void {
  const name = loginHeader();
  const own = loopback.includes((from ?? "").replace(/^::ffff:/, ""));
  if (name && !own) delete headers[name];
}

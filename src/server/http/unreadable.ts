/** Methods of HTTP that anything here answers (RFC 9110); the others would end in an error of the framework. */
const methods: readonly string[] = ["GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS"];

/** Why a request is answered before anything looks at it; null: it can be read. */
export function unreadable(
  method: string,
  url: string,
): { readonly status: number; readonly message: string } | null {
  if (!methods.includes(method)) return { status: 405, message: `${method} is not answered here.` };
  try {
    if (!decodeURIComponent(url.split("?")[0]!).includes("\0")) return null;
  } catch {
    // Not what percent signs stand for (RFC 3986).
  }
  return { status: 400, message: "This address cannot be read." };
}

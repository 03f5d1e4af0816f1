// The web server: the framework's pages and routes behind a look at whether a request can be read at all.
import { createServer } from "node:http";
import next from "next";
import { log } from "./log";
import { sweepOwnFoldersSoon } from "./ownFolder";
import { withoutForgedLogin } from "./http/login";
import { unreadable } from "./http/unreadable";
import { takeUploadPart, uploadOf } from "./http/uploadParts";

const port = Number(process.env["JUBO_PORT"] ?? 3210);
const host = process.env["JUBO_HOST"] ?? "127.0.0.1";
const app = next({ dev: false, hostname: host, port });
await app.prepare();
const handle = app.getRequestHandler();
const server = createServer((request, response) => {
  withoutForgedLogin(request.headers, request.socket.remoteAddress);
  const reason = unreadable(request.method ?? "", request.url ?? "");
  const upload = uploadOf(request);
  if (!reason)
    return void (upload ? takeUploadPart(upload, request, response) : handle(request, response)).catch(
      (error: Error) => {
        log.error({ error: error.stack }, "request failed");
        response.destroy();
      },
    );
  response.writeHead(reason.status, { "content-type": "text/plain; charset=utf-8", connection: "close" });
  response.end(reason.message);
});
// Longer than proxies and programs keep a connection on which they may still send: who sends on one that just ends fails.
server.keepAliveTimeout = 75_000;
sweepOwnFoldersSoon();
server.listen(port, host, () => process.stdout.write(`listening on http://${host}:${port}\n`));

for (const signal of ["SIGINT", "SIGTERM"] as const)
  process.once(signal, () => {
    // Whoever still listens to an answer has the time of one sweep of the connections; work goes on in the worker.
    server.close(() => process.exit(0));
    server.closeIdleConnections();
    setTimeout(() => server.closeAllConnections(), 1000).unref();
  });

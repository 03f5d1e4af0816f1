import pino from "pino";

/** The server's log, JSON lines on standard error. */
export const log = pino({ level: process.env["JUBO_LOG"] ?? "info", base: null }, pino.destination(2));

import type { Browser, CDPSession } from "@playwright/test";

interface Reply {
  readonly id?: number;
  readonly result?: unknown;
  readonly error?: { readonly message: string };
}
interface Evaluated {
  readonly result: { readonly value?: unknown };
  readonly exceptionDetails?: { readonly exception?: { readonly description?: string } };
}

/** Keys that are no letters or digits: their code and the text they write. */
const named: Readonly<Record<string, readonly [code: string, key: number, text: string]>> = {
  " ": ["Space", 32, " "],
  Enter: ["Enter", 13, "\r"],
};
const codeOf = (key: string): readonly [string, number, string] =>
  named[key] ?? [
    /\d/.test(key) ? `Digit${key}` : `Key${key.toUpperCase()}`,
    key.toUpperCase().charCodeAt(0),
    key,
  ];
/** Bits by which the protocol tells keys that are held. */
const held = { Control: 2, Shift: 8 } as const;

/**
 * A page that nobody observes. Of every page and worker that Playwright has, the browser keeps up to 100 MB of what was
 * fetched, for it to look at: not what the page takes where somebody works. This one has a context of its own, of which
 * Playwright knows nothing, and answers by the browser's protocol only what it is asked.
 */
export class QuietPage {
  private asked = 0;
  private readonly waiting = new Map<number, (reply: Reply) => void>();
  private constructor(
    private readonly browser: CDPSession,
    private readonly context: string,
    private readonly session: string,
  ) {
    browser.on("Target.receivedMessageFromTarget", ({ sessionId, message }) => {
      const reply = JSON.parse(message) as Reply;
      if (sessionId === session && reply.id !== undefined) this.waiting.get(reply.id)?.(reply);
    });
  }

  static async open(browser: Browser, url: string): Promise<QuietPage> {
    const all = await browser.newBrowserCDPSession();
    const { browserContextId } = await all.send("Target.createBrowserContext");
    const { targetId } = await all.send("Target.createTarget", { url, browserContextId });
    const { sessionId } = await all.send("Target.attachToTarget", { targetId, flatten: false });
    const page = new QuietPage(all, browserContextId, sessionId);
    await page.send("Emulation.setDeviceMetricsOverride", {
      width: 1280,
      height: 800,
      deviceScaleFactor: 1,
      mobile: false,
    });
    return page;
  }

  /** Asks the page by the browser's protocol. Errors  Error with the browser's words. */
  send<T>(method: string, params: object = {}): Promise<T> {
    const id = ++this.asked;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, ({ result, error }) => {
        this.waiting.delete(id);
        if (error) reject(new Error(`${method}: ${error.message}`));
        else resolve(result as T);
      });
      const message = JSON.stringify({ id, method, params });
      this.browser.send("Target.sendMessageToTarget", { sessionId: this.session, message }).catch(reject);
    });
  }
  /** What a function gives in the page. */
  async evaluate<R, A = undefined>(work: (given: A) => R | Promise<R>, given?: A): Promise<R> {
    const { result, exceptionDetails } = await this.send<Evaluated>("Runtime.evaluate", {
      expression: `(${work.toString()})(${JSON.stringify(given)})`,
      awaitPromise: true,
      returnByValue: true,
    });
    if (exceptionDetails) throw new Error(exceptionDetails.exception?.description ?? "the page threw");
    return result.value as R;
  }
  /** Presses a key, such as "c" or "Control+Shift+z". */
  async press(keys: string): Promise<void> {
    const parts = keys.split("+");
    const [key, modifiers] = [parts.pop()!, parts.reduce((sum, name) => sum | held[name as "Control"], 0)];
    const [code, windowsVirtualKeyCode, text] = codeOf(key);
    const one = {
      key: modifiers & held.Shift ? key.toUpperCase() : key,
      code,
      windowsVirtualKeyCode,
      modifiers,
    };
    await this.send("Input.dispatchKeyEvent", { type: "keyDown", ...one, ...(modifiers ? {} : { text }) });
    await this.send("Input.dispatchKeyEvent", { type: "keyUp", ...one });
  }
  /** Writes over what is chosen. */
  write(text: string): Promise<object> {
    return this.send("Input.insertText", { text });
  }
  /** Waits until a function of the page gives true. Errors  Error when it does not within half a minute. */
  async until(work: () => boolean): Promise<void> {
    for (let n = 0; !(await this.evaluate(work).catch(() => false)); n++) {
      if (n > 150) throw new Error(`the page never came to: ${work.toString()}`);
      await new Promise((resolve) => setTimeout(resolve, 200));
    }
  }
  async close(): Promise<void> {
    await this.browser.send("Target.disposeBrowserContext", { browserContextId: this.context });
    await this.browser.detach();
  }
}

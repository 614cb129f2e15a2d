import { say } from "../../api/client";
import { mayMend } from "./trying";

/** What a drafter asks, and whom it tells. */
export interface Drafting<T, R> {
  /** Reckons without storing. */
  draft: (doc: T) => Promise<R>;
  /** Reckons more closely once nothing has changed for a while. */
  whenQuiet?: (doc: T) => Promise<R>;
  onResult: (result: R) => void;
  onRefused: (why: string) => void;
}

/**
 * Drafter has documents reckoned as they change: one question at a time, always
 * the newest document next. What lies between two questions is never asked for.
 *
 *	want  a   b c d
 *	asks  a·····|d····|      b and c are passed over
 *	told        a     d  …quiet…  d, more closely
 */
export class Drafter<T, R> {
  #wanted: T;
  #reckoned: T;
  #closest: T | null = null;
  #asking = false;
  #timer: ReturnType<typeof setTimeout> | undefined;

  /** The first document is reckoned already. */
  constructor(
    first: T,
    public drafting: Drafting<T, R>,
    readonly quietAfter = 300,
  ) {
    this.#wanted = first;
    this.#reckoned = first;
  }

  /** want names the newest document. */
  want(doc: T): void {
    this.#wanted = doc;
    void this.retry();
    clearTimeout(this.#timer);
    this.#timer = setTimeout(() => void this.#lookCloser(doc), this.quietAfter);
  }

  /** retry asks again, once the server is known to be back. */
  async retry(): Promise<void> {
    if (this.#asking) return;
    this.#asking = true;
    while (this.#reckoned !== this.#wanted) {
      const asked = this.#wanted;
      try {
        const answer = await this.drafting.draft(asked);
        this.#reckoned = asked;
        if (this.#closest !== asked) this.drafting.onResult(answer);
      } catch (error) {
        if (mayMend(error)) break;
        this.#reckoned = asked;
        if (asked === this.#wanted) this.drafting.onRefused(say(error));
      }
    }
    this.#asking = false;
  }

  /** stop asks nothing more closely. */
  stop(): void {
    clearTimeout(this.#timer);
  }

  async #lookCloser(doc: T): Promise<void> {
    try {
      const answer = await this.drafting.whenQuiet?.(doc);
      if (answer === undefined || this.#wanted !== doc) return;
      this.#closest = doc;
      this.drafting.onResult(answer);
    } catch {
      // The draft has said what is wrong.
    }
  }
}

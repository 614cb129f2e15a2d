// What was left behind unsaved when its place was left: kept here and stored as
// soon as the server takes it.
import { mayMend } from "./trying";

/** Outbox holds saves until they are done. */
export class Outbox {
  readonly #waiting = new Set<() => Promise<unknown>>();

  constructor(readonly retryAfter = 2500) {}

  /** How many saves are under way or will be tried again. */
  get size(): number {
    return this.#waiting.size;
  }

  /** post saves, and tries again as long as that may help. */
  post(save: () => Promise<unknown>): void {
    this.#waiting.add(save);
    save().then(
      () => this.#waiting.delete(save),
      (error: unknown) => {
        if (mayMend(error)) setTimeout(() => this.post(save), this.retryAfter);
        else this.#waiting.delete(save);
      },
    );
  }
}

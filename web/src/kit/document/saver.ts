import { say } from "../../api/client";
import type { Outbox } from "./outbox";
import { mayMend, whyAway } from "./trying";

/** Saved is the version that was stored; with what was stored elsewhere since, nothing was. */
export interface Saved<T> {
  version: number;
  stored?: T;
}

/** SaveState is what became of the last change. */
export type SaveState<T> =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "away"; why: string }
  | { kind: "refused"; why: string }
  | { kind: "conflict"; stored: T; version: number };

/** What a saver calls, and whom it tells. */
export interface Saving<T> {
  save: (doc: T, version: number) => Promise<Saved<T>>;
  onState: (state: SaveState<T>) => void;
  /** The server has taken a document: it is there. */
  onStored: () => void;
}

/** Waits of a saver, ms. */
export interface Waits {
  quiet: number;
  retry: number;
}

/**
 * Saver stores the newest document after a little quiet, one save at a time.
 *
 *	 saved ──change──> (quiet) ──> saving ──taken──> saved
 *	                     ^            ├──away─────> away ──wait──> saving
 *	                     └──change────├──refused──> refused
 *	                                  └──stale────> conflict ──keep mine──> saving
 *	                                                         └─take theirs─> saved
 */
export class Saver<T> {
  #wanted: T;
  #stored: T;
  #version: number;
  #state: SaveState<T> = { kind: "saved" };
  #under: Promise<void> | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #left = false;

  constructor(
    first: T,
    version: number,
    public saving: Saving<T>,
    readonly waits: Waits = { quiet: 500, retry: 2500 },
  ) {
    this.#wanted = first;
    this.#stored = first;
    this.#version = version;
  }

  /** Of what is stored. */
  get version(): number {
    return this.#version;
  }

  /** Whether the newest document is not what is stored. */
  get unsaved(): boolean {
    return this.#wanted !== this.#stored;
  }

  /** The state for the eye: back at what is stored, nothing is unsaved. */
  get state(): SaveState<T> {
    const { kind } = this.#state;
    if (!this.unsaved) return kind === "refused" || kind === "away" ? { kind: "saved" } : this.#state;
    return kind === "saved" ? { kind: "saving" } : this.#state;
  }

  /** want names the newest document. */
  want(doc: T): void {
    this.#wanted = doc;
    this.#left = false;
    this.#schedule(this.waits.quiet);
  }

  /** refuse tells that the newest document was found wrong before it was sent. */
  refuse(why: string): void {
    if (this.#state.kind === "conflict") return; // one has to choose first
    this.#tell({ kind: "refused", why });
  }

  /** adopt takes what another part of the page has stored, unless something is unsaved here. */
  adopt(doc: T, version: number): boolean {
    if (version <= this.#version || this.unsaved) return false;
    this.#version = version;
    this.#stored = doc;
    return true;
  }

  /** keepMine stores the newest document over what was stored elsewhere. */
  keepMine(): void {
    if (this.#state.kind !== "conflict") return;
    this.#settle(this.#state.stored, this.#state.version, { kind: "saving" });
    this.#schedule(0);
  }

  /** takeStored gives what was stored elsewhere, which is the newest document from now on. */
  takeStored(): T | undefined {
    if (this.#state.kind !== "conflict") return undefined;
    const { stored, version } = this.#state;
    this.#wanted = stored;
    this.#settle(stored, version, { kind: "saved" });
    return stored;
  }

  /** leave stores what the quiet had not stored yet, in the background. */
  leave(outbox: Outbox): void {
    clearTimeout(this.#timer);
    this.#left = true;
    void (this.#under ?? Promise.resolve()).then(() => {
      if (!this.#left || !this.unsaved) return;
      const last = this.#wanted;
      outbox.post(() => this.saving.save(last, this.#version));
    });
  }

  #settle(stored: T, version: number, state: SaveState<T>): void {
    this.#version = version;
    this.#stored = stored;
    this.#tell(state);
  }

  #tell(state: SaveState<T>): void {
    this.#state = state;
    this.saving.onState(this.state);
  }

  #schedule(after: number): void {
    clearTimeout(this.#timer);
    if (!this.unsaved || this.#left || this.#state.kind === "conflict") return;
    this.#timer = setTimeout(() => {
      this.#under ??= this.#save().finally(() => (this.#under = null));
    }, after);
  }

  async #save(): Promise<void> {
    const doc = this.#wanted;
    this.#tell({ kind: "saving" });
    try {
      const saved = await this.saving.save(doc, this.#version);
      if (saved.stored !== undefined) {
        this.#tell({ kind: "conflict", stored: saved.stored, version: saved.version });
        return;
      }
      this.#settle(doc, saved.version, { kind: "saved" });
      this.saving.onStored();
      this.#schedule(this.waits.quiet);
    } catch (error) {
      if (mayMend(error)) {
        this.#tell({ kind: "away", why: whyAway(error) });
        this.#schedule(this.waits.retry);
      } else {
        this.#tell({ kind: "refused", why: say(error) });
        if (doc !== this.#wanted) this.#schedule(this.waits.quiet);
      }
    }
  }
}

import { newName } from "../../api/asking";
import { say } from "../../api/client";
import { merge3, same, type Winner } from "../merge";
import type { Outbox } from "./outbox";
import { mayMend, whyAway } from "./trying";
import type { Unsaved } from "./unsaved";

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
  | { kind: "conflict"; stored: T; version: number; both: string[] };

/** What a saver calls, and whom it tells. */
export interface Saving<T> {
  save: (doc: T, version: number, name: string) => Promise<Saved<T>>;
  onState: (state: SaveState<T>) => void;
  /** The server has taken a document: it is there. */
  onStored: () => void;
  /** What was stored elsewhere is joined with what is here. */
  onJoined: (doc: T) => void;
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
 *	                                  └──stale──┬─> joined ──> saving
 *	                                            └─> conflict ──mine, theirs──> joined
 */
export class Saver<T> {
  #wanted: T;
  #stored: T;
  #version: number;
  #state: SaveState<T> = { kind: "saved" };
  #under: Promise<void> | null = null;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #left = false;
  /** Who is followed where both have changed the same, until that is stored. */
  #winner: Winner | null = null;
  /** The name under which a document is saved, however often it is tried. */
  #named: { doc: T; name: string } | null = null;

  /** The newest document may differ from what is stored from the beginning. */
  constructor(
    first: T,
    version: number,
    public saving: Saving<T>,
    wanted = first,
    readonly waits: Waits = { quiet: 500, retry: 2500 },
  ) {
    this.#wanted = wanted;
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

  /** What is not stored, with what it was changed from. */
  get work(): Unsaved<T> | null {
    return this.unsaved ? { base: this.#stored, version: this.#version, doc: this.#wanted } : null;
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

  /** choose settles who is followed where both have changed the same thing. */
  choose(winner: Winner): void {
    if (this.#state.kind !== "conflict") return;
    this.#winner = winner;
    this.#join(this.#state.stored, this.#state.version);
  }

  /** leave stores what the quiet had not stored yet, in the background. */
  leave(outbox: Outbox): void {
    clearTimeout(this.#timer);
    this.#left = true;
    void (this.#under ?? Promise.resolve()).then(() => {
      if (!this.#left || !this.unsaved) return;
      const last = this.#wanted;
      outbox.post(async () => {
        const saved = await this.#ask(last);
        if (saved.stored === undefined) this.#settle(last, saved.version, { kind: "saved" });
      });
    });
  }

  /** Joins what was stored elsewhere with what is here, or asks who is followed. */
  #join(theirs: T, version: number): void {
    const { merged, both } = merge3(this.#stored, this.#wanted, theirs, this.#winner ?? "mine");
    if (both.length > 0 && this.#winner === null) {
      this.#tell({ kind: "conflict", stored: theirs, version, both });
      return;
    }
    this.#wanted = same(merged, theirs) ? theirs : merged;
    if (this.#wanted === theirs) this.#winner = null; // nothing of mine is left to be stored
    this.#settle(theirs, version, { kind: this.#wanted === theirs ? "saved" : "saving" });
    this.saving.onJoined(this.#wanted);
    this.#schedule(0);
  }

  #settle(stored: T, version: number, state: SaveState<T>): void {
    this.#version = version;
    this.#stored = stored;
    this.#named = null;
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

  #ask(doc: T): Promise<Saved<T>> {
    if (this.#named?.doc !== doc) this.#named = { doc, name: newName() };
    return this.saving.save(doc, this.#version, this.#named.name);
  }

  async #save(): Promise<void> {
    const doc = this.#wanted;
    this.#tell({ kind: "saving" });
    try {
      const saved = await this.#ask(doc);
      if (saved.stored !== undefined) {
        this.#join(saved.stored, saved.version);
        return;
      }
      this.#winner = null;
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

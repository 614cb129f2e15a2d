import type { Winner } from "../merge";
import { Drafter } from "./drafter";
import { begin, change, redo, settle, undo, type History } from "./history";
import type { Outbox } from "./outbox";
import { Saver, type Saved, type SaveState } from "./saver";
import type { Unsaved } from "./unsaved";

/** What a document is made of, and how the server is asked. */
export interface Options<T, R> {
  doc: T;
  version: number;
  result: R;
  /** Reckons without storing. */
  draft: (doc: T) => Promise<R>;
  /** Reckons more closely once nothing has changed for a while. */
  whenQuiet?: (doc: T) => Promise<R>;
  /** Stores under a name, and gives the new version; or what was stored elsewhere since. */
  save: (doc: T, version: number, name: string) => Promise<Saved<T>>;
}

/** What of a document is shown; a new one for each change. */
export interface Shown<T, R> {
  doc: T;
  result: R;
  state: SaveState<T>;
  canUndo: boolean;
  canRedo: boolean;
}

/**
 * Document is what one edits: changed at once, reckoned as it changes, saved by
 * itself, with undo and redo.
 *
 *	 set ─> History ─┬─> Drafter ─> result ─┐
 *	                 └─> Saver ───> state ──┴─> shown ─> whoever subscribes
 */
export class Document<T, R> {
  #history: History<T>;
  #result: R;
  #shown: Shown<T, R>;
  readonly #listeners = new Set<() => void>();
  readonly #drafter: Drafter<T, R>;
  readonly #saver: Saver<T>;

  constructor(
    /** May be exchanged while the document is open. */
    public options: Options<T, R>,
    /** Runs a change of what is shown that may wait for a quiet moment. */
    soon: (change: () => void) => void = (change) => change(),
    /** The same document as it was left, with its undo, unless it has changed since. */
    before?: Document<T, R>,
    /** What was not stored when its page was closed: it goes on from there. */
    kept?: Unsaved<T> | null,
  ) {
    const same = before?.version() === options.version && !before.unsaved();
    this.#history = same ? { ...before.#history, now: options.doc, kind: "" } : begin(options.doc);
    if (kept) this.#history = change(begin(kept.base), kept.doc);
    this.#result = options.result;
    this.#saver = new Saver(
      kept?.base ?? options.doc,
      kept?.version ?? options.version,
      {
        save: (doc, version, name) => this.options.save(doc, version, name),
        onState: () => this.#changed(),
        onStored: () => void this.#drafter.retry(),
        onJoined: (doc) => this.set(doc),
      },
      this.#history.now,
    );
    this.#drafter = new Drafter(options.doc, {
      draft: (doc) => this.options.draft(doc),
      whenQuiet: options.whenQuiet && ((doc) => this.options.whenQuiet!(doc)),
      onResult: (result) =>
        soon(() => {
          this.#result = result;
          this.#changed();
        }),
      onRefused: (why) => this.#saver.refuse(why),
    });
    this.#shown = this.#show();
  }

  // The functions below are bound, so that they can be handed on one by one.

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  readonly shown = (): Shown<T, R> => this.#shown;

  /** open begins, or goes on after the document was left. */
  readonly open = (): void => this.#pass(this.#history.now);

  /** leave stores what is not stored yet, in the background. */
  readonly leave = (outbox: Outbox): void => {
    this.#drafter.stop();
    this.#saver.leave(outbox);
  };

  /** set changes the document; changes of one kind in a row are undone as one. */
  readonly set = (next: T | ((now: T) => T), kind = ""): void => {
    const now = typeof next === "function" ? (next as (now: T) => T)(this.#history.now) : next;
    this.#turn(change(this.#history, now, kind));
  };

  /** settle ends a kind of change, such as one drag. */
  readonly settle = (): void => {
    this.#history = settle(this.#history);
  };

  readonly undo = (): void => this.#turn(undo(this.#history));

  readonly redo = (): void => this.#turn(redo(this.#history));

  /** Of what is stored. */
  readonly version = (): number => this.#saver.version;

  /** Whether the newest change is not stored yet. */
  readonly unsaved = (): boolean => this.#saver.unsaved;

  /** What is not stored, with what it was changed from. */
  readonly work = (): Unsaved<T> | null => this.#saver.work;

  /** adopt shows what another part of the page has stored, unless something is unsaved here. */
  readonly adopt = (doc: T, version: number): void => {
    if (this.#saver.adopt(doc, version)) this.set(doc);
  };

  /** choose settles who is followed where this and another page have changed the same. */
  readonly choose = (winner: Winner): void => this.#saver.choose(winner);

  #turn(next: History<T>): void {
    if (next === this.#history) return;
    const before = this.#history.now;
    this.#history = next;
    if (next.now !== before) this.#pass(next.now);
    this.#changed();
  }

  #pass(doc: T): void {
    this.#saver.want(doc);
    this.#drafter.want(doc);
  }

  #changed(): void {
    this.#shown = this.#show();
    for (const listener of this.#listeners) listener();
  }

  #show(): Shown<T, R> {
    return {
      doc: this.#history.now,
      result: this.#result,
      state: this.#saver.state,
      canUndo: this.#history.past.length > 0,
      canRedo: this.#history.future.length > 0,
    };
  }
}

// A document that is saved as one edits: undo and redo, drafts reckoned by the
// server as it changes, retries when the server is away, and a choice when it
// was changed elsewhere.
import { useCallback, useEffect, useReducer, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { Refused, say } from "../api/client";
import { begin, change, redo, settle, undo, type History } from "./history";

export type SaveState =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "away"; why: string }
  | { kind: "refused"; why: string }
  | { kind: "conflict"; stored: unknown; version: number };

interface Options<T, R> {
  doc: T;
  version: number;
  result: R;
  /** Reckons without storing. */
  draft: (doc: T) => Promise<R>;
  /** Reckons more closely once nothing has changed for a while. */
  whenQuiet?: (doc: T) => Promise<R>;
  /** Stores and returns the new version. */
  save: (doc: T, version: number) => Promise<number>;
  /** What was stored since by another part of this page; taken over unless something is unsaved. */
  newest?: { doc: T; version: number };
}

export interface Doc<T, R> {
  doc: T;
  result: R;
  state: SaveState;
  canUndo: boolean;
  canRedo: boolean;
  set: (next: T | ((now: T) => T), kind?: string) => void;
  settle: () => void;
  undo: () => void;
  redo: () => void;
  /** Of what is stored. */
  version: () => number;
  keepMine: () => void;
  takeStored: () => void;
}

type Action<T> =
  | { do: "set"; next: T | ((now: T) => T); kind: string }
  | { do: "undo" }
  | { do: "redo" }
  | { do: "settle" };

function reduce<T>(h: History<T>, a: Action<T>): History<T> {
  switch (a.do) {
    case "set":
      return change(h, typeof a.next === "function" ? (a.next as (now: T) => T)(h.now) : a.next, a.kind);
    case "undo":
      return undo(h);
    case "redo":
      return redo(h);
    case "settle":
      return settle(h);
  }
}

/** betweenFrames changes what is shown in a quiet moment, or soon if there is none, and by itself: no move of a drag has to draw it too. */
export function betweenFrames(change: () => void): void {
  const go = () => flushSync(change);
  if (window.requestIdleCallback) window.requestIdleCallback(go, { timeout: 80 });
  else window.setTimeout(go);
}

const saveAfter = 500; // ms of quiet
const quietAfter = 300;
const retryAfter = 2500;

/** away tells answers that another try may mend from refusals. */
const away = (error: unknown): boolean => !(error instanceof Refused) || error.status >= 500 || error.status === 401;

// What was left behind unsaved when its place was left: kept here and stored
// as soon as the server takes it.
const outbox = new Set<() => Promise<unknown>>();

function post(save: () => Promise<unknown>): void {
  outbox.add(save);
  save().then(
    () => outbox.delete(save),
    (error: unknown) => {
      outbox.delete(save);
      if (away(error)) window.setTimeout(() => post(save), retryAfter);
    },
  );
}

window.addEventListener("beforeunload", (e) => {
  if (outbox.size > 0) e.preventDefault();
});

/** shown is the state for the eye: back at what is stored, nothing is unsaved. */
function shown(state: SaveState, stored: boolean): SaveState {
  if (stored) return state.kind === "refused" || state.kind === "away" ? { kind: "saved" } : state;
  return state.kind === "saved" ? { kind: "saving" } : state;
}

export function useDocument<T, R>(o: Options<T, R>): Doc<T, R> {
  const [history, dispatch] = useReducer(reduce<T>, o.doc, begin<T>);
  const [result, setResult] = useState(o.result);
  const [state, setState] = useState<SaveState>({ kind: "saved" });
  const [turn, takeTurn] = useReducer((n: number) => n + 1, 0);
  const hurry = useRef(false);
  const version = useRef(o.version);
  const stored = useRef(o.doc); // what the server has
  const wanted = useRef(o.doc); // what the page has
  const options = useRef(o);
  useEffect(() => {
    options.current = o;
  });
  const doc = history.now;

  const newest = o.newest;
  useEffect(() => {
    if (!newest || newest.version <= version.current || stored.current !== wanted.current) return;
    version.current = newest.version;
    stored.current = newest.doc;
    dispatch({ do: "set", next: newest.doc, kind: "" });
  }, [newest]);

  // Drafts: one at a time, always the newest next.
  const drafting = useRef(false);
  const reckoned = useRef(o.doc);
  const closest = useRef<T | null>(null); // what was last reckoned more closely
  const ask = useCallback(async () => {
    if (drafting.current) return;
    drafting.current = true;
    while (reckoned.current !== wanted.current) {
      const asked = wanted.current;
      try {
        const answer = await options.current.draft(asked);
        reckoned.current = asked;
        if (closest.current !== asked) betweenFrames(() => setResult(answer));
      } catch (error) {
        if (away(error)) break; // asked again once a save shows that the server is back
        reckoned.current = asked;
        if (asked === wanted.current) setState({ kind: "refused", why: say(error) });
      }
    }
    drafting.current = false;
  }, []);
  useEffect(() => {
    wanted.current = doc;
    void ask();
    const closer = options.current.whenQuiet;
    if (!closer) return;
    const timer = window.setTimeout(() => {
      closer(doc).then(
        (answer) => {
          if (wanted.current !== doc) return;
          closest.current = doc;
          betweenFrames(() => setResult(answer));
        },
        () => {}, // the draft has said what is wrong
      );
    }, quietAfter);
    return () => window.clearTimeout(timer);
  }, [doc, ask]);

  // Saves: after a little quiet; again when the server was away.
  const saving = useRef<Promise<unknown> | null>(null);
  const conflicted = state.kind === "conflict";
  useEffect(() => {
    if (doc === stored.current || conflicted) return;
    const timer = window.setTimeout(
      () => {
        if (saving.current) return; // its end takes another turn
        setState({ kind: "saving" });
        saving.current = options.current.save(doc, version.current).then(
          (v) => {
            saving.current = null;
            version.current = v;
            stored.current = doc;
            setState({ kind: "saved" });
            takeTurn();
            void ask();
          },
          (error: unknown) => {
            saving.current = null;
            if (error instanceof Refused && error.status === 409) {
              const both = error.problem as unknown as { stored: unknown; version: number };
              setState({ kind: "conflict", stored: both.stored, version: both.version });
            } else if (!away(error)) {
              setState({ kind: "refused", why: say(error) });
              if (doc !== wanted.current) takeTurn();
            } else {
              setState({
                kind: "away",
                why:
                  error instanceof Refused && error.status === 401
                    ? "You are signed out. Sign in in another window; what you typed is kept here."
                    : say(error),
              });
              window.setTimeout(() => {
                hurry.current = true;
                takeTurn();
              }, retryAfter);
            }
          },
        );
      },
      hurry.current ? 0 : saveAfter,
    );
    hurry.current = false;
    return () => window.clearTimeout(timer);
  }, [doc, turn, conflicted, ask]);

  // Nothing unsaved is lost by closing the page unasked.
  useEffect(() => {
    const warn = (e: BeforeUnloadEvent) => {
      if (stored.current !== wanted.current) e.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, []);

  // Leaving the place stores what the quiet had not yet stored.
  useEffect(
    () => () => {
      void (saving.current ?? Promise.resolve()).finally(() => {
        const last = wanted.current;
        if (stored.current !== last) post(() => options.current.save(last, version.current));
      });
    },
    [],
  );

  const set = useCallback((next: T | ((now: T) => T), kind = "") => dispatch({ do: "set", next, kind }), []);
  return {
    doc,
    result,
    state: shown(state, doc === stored.current),
    canUndo: history.past.length > 0,
    canRedo: history.future.length > 0,
    set,
    settle: useCallback(() => dispatch({ do: "settle" }), []),
    undo: useCallback(() => dispatch({ do: "undo" }), []),
    redo: useCallback(() => dispatch({ do: "redo" }), []),
    version: useCallback(() => version.current, []),
    keepMine: () => {
      if (state.kind !== "conflict") return;
      version.current = state.version;
      stored.current = state.stored as T;
      setState({ kind: "saving" });
      hurry.current = true;
      takeTurn();
    },
    takeStored: () => {
      if (state.kind !== "conflict") return;
      version.current = state.version;
      stored.current = state.stored as T;
      dispatch({ do: "set", next: state.stored as T, kind: "" });
      setState({ kind: "saved" });
    },
  };
}

/** Edit changes some fields of a document, from what they are when the change is made. */
export type Edit<T> = (change: Partial<T> | ((now: T) => Partial<T>), kind?: string) => void;

/** editor makes an Edit of a document. */
export function editor<T, R>(d: Doc<T, R>): Edit<T> {
  return (change, kind = "") =>
    d.set((now) => {
      const part = typeof change === "function" ? change(now) : change;
      return Object.keys(part).length === 0 ? now : { ...now, ...part };
    }, kind);
}

/** useUndoKeys binds Ctrl+Z and Ctrl+Shift+Z for a document. */
export function useUndoKeys(doc: { undo: () => void; redo: () => void }): void {
  const { undo: back, redo: forth } = doc;
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z") return;
      const typing =
        e.target instanceof HTMLElement && (e.target.matches("input, textarea") || e.target.isContentEditable);
      if (typing && (e.target as HTMLInputElement).dataset.dirty === "yes") return; // the field undoes its own typing first
      e.preventDefault();
      if (e.shiftKey) forth();
      else back();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [back, forth]);
}

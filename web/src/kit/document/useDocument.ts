// A document within React: what it shows, and the ways to change it.
import { useEffect, useMemo, useState, useSyncExternalStore } from "react";
import { flushSync } from "react-dom";
import { mistyped } from "../readings";
import { Document, type Options, type Shown } from "./document";
import { Outbox } from "./outbox";
import { keepUnsaved, unsavedOf } from "./unsaved";

/** Doc is what is shown of a document, and the ways to change it. */
export interface Doc<T, R>
  extends Shown<T, R>, Pick<Document<T, R>, "set" | "settle" | "undo" | "redo" | "version" | "choose"> {}

/**
 * betweenFrames changes what is shown in a quiet moment, or soon if there is none,
 * and by itself: no move of a drag has to draw it too.
 */
export function betweenFrames(change: () => void): void {
  const go = () => flushSync(change);
  if (window.requestIdleCallback) window.requestIdleCallback(go, { timeout: 80 });
  else window.setTimeout(go);
}

const outbox = new Outbox();

window.addEventListener("beforeunload", (e) => {
  if (outbox.size > 0) e.preventDefault();
});

/** Of one part of the page: with what another part of it has stored since. */
interface Opened<T, R> extends Options<T, R> {
  newest?: { doc: T; version: number };
  /** By which it is known again with its undo, when its place is left and opened again. */
  name?: string;
}

/** The documents that were left last, by name. */
const left = new Map<string, unknown>();
const mostLeft = 20;

function keep(name: string, document: unknown): void {
  left.delete(name);
  left.set(name, document);
  if (left.size > mostLeft) left.delete(left.keys().next().value!);
}

/** shelved keeps what is unsaved of a document when its page is closed or left, until it is stored. */
function shelved<T, R>(name: string, document: Document<T, R>): () => void {
  let kept = unsavedOf(name) !== null;
  const put = () => {
    const work = document.work();
    if (work || kept) keepUnsaved(name, work);
    kept = work !== null;
  };
  const follow = () => {
    const away = document.shown().state.kind === "away"; // it may be closed unasked
    if (away || (kept && !document.unsaved())) put();
  };
  const hidden = () => window.document.visibilityState === "hidden" && put();
  const ends = [document.subscribe(follow)];
  window.addEventListener("pagehide", put);
  window.document.addEventListener("visibilitychange", hidden);
  ends.push(() => window.removeEventListener("pagehide", put));
  ends.push(() => window.document.removeEventListener("visibilitychange", hidden));
  return () => {
    put();
    // What is stored in the background is still followed until it is there.
    const [stop, ...rest] = ends;
    rest.forEach((end) => end());
    if (!kept) stop();
  };
}

/** useDocument opens a document as long as its place is shown. */
export function useDocument<T, R>(options: Opened<T, R>): Doc<T, R> {
  const { name } = options;
  const [document] = useState(
    () =>
      new Document(
        options,
        betweenFrames,
        left.get(name ?? "") as Document<T, R> | undefined,
        name ? unsavedOf<T>(name) : null,
      ),
  );
  useEffect(() => {
    document.options = options;
  });
  useEffect(() => (name ? shelved(name, document) : undefined), [document, name]);
  useEffect(() => {
    document.open();
    // Nothing unsaved is lost by closing the page unasked.
    const warn = (e: BeforeUnloadEvent) => {
      if (document.unsaved() || mistyped()) e.preventDefault();
    };
    window.addEventListener("beforeunload", warn);
    return () => {
      window.removeEventListener("beforeunload", warn);
      document.leave(outbox);
      if (name) keep(name, document);
    };
  }, [document, name]);
  const { newest } = options;
  useEffect(() => {
    if (newest) document.adopt(newest.doc, newest.version);
  }, [document, newest]);
  const shown = useSyncExternalStore(document.subscribe, document.shown);
  const { set, settle, undo, redo, version, choose } = document;
  return useMemo(
    () => ({ ...shown, set, settle, undo, redo, version, choose }),
    [shown, set, settle, undo, redo, version, choose],
  );
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
export function useUndoKeys({ undo, redo }: { undo: () => void; redo: () => void }): void {
  useEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== "z") return;
      const typing =
        e.target instanceof HTMLElement && (e.target.matches("input, textarea") || e.target.isContentEditable);
      // The field undoes its own typing first.
      if (typing && (e.target as HTMLInputElement).dataset.dirty === "yes") return;
      e.preventDefault();
      if (e.shiftKey) redo();
      else undo();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, [undo, redo]);
}

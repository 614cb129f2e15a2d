// What is typed and not taken yet: lengths that the server is still reading, and
// fields in which something stands that cannot be taken.
import { useEffect, useLayoutEffect, useRef } from "react";
import { Refused } from "../api/client";

const pending = new Set<Promise<unknown>>();
const wrongFields = new Set<object>();
const watchers = new Set<() => void>();

/** onMistyped calls back when a field is marked, or set right. */
export function onMistyped(tell: () => void): () => void {
  watchers.add(tell);
  return () => watchers.delete(tell);
}

/** reading notes a length that is being read. */
export function reading(read: Promise<unknown>): void {
  pending.add(read);
  void read.finally(() => pending.delete(read));
}

/** mistyped reports whether any field holds what cannot be taken. */
export const mistyped = (): boolean => wrongFields.size > 0;

/** note notes a field that holds what cannot be taken, until the answer is called. */
export function note(): () => void {
  const field = {};
  const tell = () => watchers.forEach((told) => told());
  wrongFields.add(field);
  tell();
  return () => {
    wrongFields.delete(field);
    tell();
  };
}

/** useMistyped notes a field as long as something is wrong with it. */
export function useMistyped(wrong: string): void {
  const isWrong = wrong !== "";
  useEffect(() => (isWrong ? note() : undefined), [isWrong]);
}

/** allTyped waits until what was typed has been read, and refuses what is pressed next while something is wrong. */
export async function allTyped(): Promise<void> {
  while (pending.size > 0 && !mistyped()) {
    let off = () => {};
    const marked = new Promise<void>((done) => (off = onMistyped(done)));
    await Promise.race([Promise.allSettled(pending), marked]);
    off();
  }
  await new Promise((shown) => setTimeout(shown)); // what was read is rendered
  if (mistyped()) throw new Refused(422, { type: "about:blank", detail: "Set right what is marked first" });
}

/** useTyped makes a press wait for what was typed before it: it goes by what stands there then. */
export function useTyped<T, A extends unknown[] = []>(press: (...said: A) => Promise<T>): (...said: A) => Promise<T> {
  const latest = useRef(press);
  useLayoutEffect(() => {
    latest.current = press;
  });
  return async (...said: A) => {
    await allTyped();
    return latest.current(...said);
  };
}

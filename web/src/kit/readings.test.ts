import { expect, test } from "vitest";
import { allTyped, mistyped, note, reading } from "./readings";

test("what is pressed next waits for every length that is being read", async () => {
  let done = "";
  const soon = (what: string) => Promise.resolve().then(() => void (done += what));
  reading(soon("a"));
  reading(soon("b").then(() => reading(soon("c")))); // typed on while it was read
  await allTyped();
  expect(done).toEqual("abc");
  await allTyped(); // nothing is left to wait for
});

test("what is pressed next is refused while a field holds what cannot be taken", async () => {
  const right = note();
  const other = note();
  right();
  expect(mistyped()).toBe(true);
  await expect(allTyped()).rejects.toThrow("Set right what is marked first");
  other();
  expect(mistyped()).toBe(false);
  await allTyped();
});

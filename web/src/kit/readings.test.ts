import { expect, test } from "vitest";
import { allRead, reading } from "./readings";

test("what is pressed next waits for every length that is being read", async () => {
  let done = "";
  const soon = (what: string) => Promise.resolve().then(() => void (done += what));
  reading(soon("a"));
  reading(soon("b").then(() => reading(soon("c")))); // typed on while it was read
  await allRead();
  expect(done).toEqual("abc");
  await allRead(); // nothing is left to wait for
});

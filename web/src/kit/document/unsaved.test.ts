import { beforeEach, expect, test } from "vitest";
import { keepFor, keepUnsaved, leftover, onLeftover, unsavedOf, type Shelf } from "./unsaved";

function shelf(room = Infinity): Shelf & { size: () => number } {
  const held = new Map<string, string>();
  return {
    size: () => held.size,
    getItem: (k) => held.get(k) ?? null,
    removeItem: (k) => void held.delete(k),
    setItem: (k, v) => {
      if (v.length > room) throw new Error("no room");
      held.set(k, v);
    },
  };
}

const work = { base: { a: 1 }, version: 3, doc: { a: 2 } };

beforeEach(() => keepFor("a@b.example"));

test("what is kept is there until it is forgotten", () => {
  const s = shelf();
  expect(unsavedOf("board 1", s)).toBeNull();
  keepUnsaved("board 1", work, s);
  expect(unsavedOf("board 1", s)).toEqual(work);
  expect(unsavedOf("board 2", s)).toBeNull();
  keepUnsaved("board 1", null, s);
  expect([unsavedOf("board 1", s), s.size()]).toEqual([null, 0]);
});

test("another maker on this device does not see it", () => {
  const s = shelf();
  keepUnsaved("shop", work, s);
  keepFor("c@d.example");
  expect(unsavedOf("shop", s)).toBeNull();
  keepFor("a@b.example");
  expect(unsavedOf("shop", s)).toEqual(work);
});

test("what was kept when the page was opened is told, until it is stored", () => {
  const s = shelf();
  let told = 0;
  const off = onLeftover(() => told++);
  keepFor("e@f.example", ["idletimber-unsaved-e@f.example-board 1", "idletimber-unsaved-a@b.example-shop", "other"]);
  expect(leftover()).toEqual(["board 1"]);
  keepUnsaved("board 2", work, s);
  expect(leftover()).toEqual(["board 1"]);
  keepUnsaved("board 1", null, s);
  expect([leftover().length, told]).toEqual([0, 1]);
  off();
});

test("a device without room loses nothing but the shelf", () => {
  const s = shelf(10);
  keepUnsaved("shop", work, s);
  expect(unsavedOf("shop", s)).toBeNull();
});

import { describe, expect, it } from "vitest";
import { notesKept } from "./notes";
import type { Note } from "./presses";

const press = (step: string, what?: Note["what"], value = 0) => ({ step, note: what && { what, value } });

describe("notes that are kept", () => {
  it("are those of the step, in their order", () => {
    const kept = [
      press("sand-80", "thick", 20),
      press("wipe-1", "dry"),
      press("sand-80"),
      press("sand-80", "thick", 21),
    ];
    expect(notesKept(kept, "sand-80").map((n) => n.value)).toEqual([20, 21]);
    expect(notesKept(kept, "wipe-1").map((n) => n.what)).toEqual(["dry"]);
    expect(notesKept(kept, "coat-1")).toEqual([]);
  });
  it("are less what was taken back", () => {
    const kept = [press("a", "thick", 1), press("a", "back"), press("a", "thick", 2), press("b", "back")];
    expect(notesKept(kept, "a").map((n) => n.value)).toEqual([2]);
    expect(notesKept([press("a", "back"), press("a", "dry")], "a").map((n) => n.what)).toEqual(["dry"]);
  });
});

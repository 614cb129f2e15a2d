import { describe, expect, it } from "vitest";
import type { Panel, Strip } from "../../api/client";
import { changed, doubled, freshId, moved, swapped, without } from "./strips";

const strip = (id: string, more: Partial<Strip> = {}): Strip => ({
  id,
  species: "Pear",
  length: 500,
  width: 40,
  thickness: 24,
  ...more,
});
const panel = (...ids: string[]): Panel => ({ construction: "flat", glue: "", strips: ids.map((id) => strip(id)) });
const ids = (p: Panel) => p.strips.map((s) => s.id).join("");

describe("strips", () => {
  it("are moved, within the panel", () => {
    expect(moved(["a", "b", "c"], 0, 2)).toEqual(["b", "c", "a"]);
    expect(moved(["a", "b", "c"], 2, -4)).toEqual(["c", "a", "b"]);
    expect(moved(["a", "b", "c"], 1, 9)).toEqual(["a", "c", "b"]);
    expect(moved(["a"], 3, 0)).toEqual(["a"]);
  });
  it("get ids of their own", () => {
    expect(freshId(panel("s1", "s3"))).toBe("s4");
    expect(freshId({ ...panel("s2"), spares: [strip("s3")] })).toBe("s4");
  });
  it("are doubled to be bought", () => {
    const p = panel("a", "b");
    p.strips[0] = strip("a", { piece: "x", problem: "no place", cents: 3 });
    const two = doubled(p, 0);
    expect(two.strips[1]).toEqual(strip("s3", { cents: 3 }));
    expect(ids(two)).toBe("as3b");
  });
  it("are left out, but for the last", () => {
    expect(ids(without(panel("a", "b"), 0))).toBe("b");
    expect(ids(without(panel("a"), 0))).toBe("a");
  });
  it("are swapped for spare ones where they lie", () => {
    const p = { ...panel("a", "b"), spares: [strip("x")] };
    p.strips[1] = strip("b", { along: 30 });
    const out = swapped(p, 1, 0);
    expect(ids(out)).toBe("ax");
    expect(out.strips[1].along).toBe(30);
    expect(out.spares?.[0].id).toBe("b");
  });
  it("are changed one at a time", () => {
    const out = changed(panel("a", "b"), 1, { turned: true });
    expect(out.strips.map((s) => s.turned)).toEqual([undefined, true]);
  });
});

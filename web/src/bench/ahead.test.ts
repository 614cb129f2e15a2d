import { expect, test } from "vitest";
import { ahead, wantedOf } from "./ahead";
import type { Note } from "./presses";

const wanted = { resinG: 20, hardenerG: 9, pigmentG: 1 };
const kept = (...whats: Note["what"][]) => whats.map((what) => ({ note: { what, value: 1 } }));
const weigh = { phase: "weigh" as const, ask: { what: "resin" as const, grams: 20, tolerance: 1 }, wanted };

test("what is kept is followed by what comes next, batch upon batch", () => {
  expect(ahead(weigh, [])).toBe("resin");
  expect(ahead(weigh, kept("resin"))).toBe("hardener");
  expect(ahead(weigh, kept("resin", "hardener"))).toBe("pigment");
  expect(ahead(weigh, kept("resin", "hardener", "pigment", "mix"))).toBe("poured");
  expect(ahead(weigh, kept("resin", "hardener", "pigment", "mix", "poured"))).toBe("resin");
});

test("without pigment none is asked for; a note that was taken back is asked for again", () => {
  const clear = { ...weigh, wanted: { ...wanted, pigmentG: 0 } };
  expect(ahead(clear, kept("resin", "hardener"))).toBe("mix");
  expect(ahead(clear, kept("resin", "back"))).toBe("resin");
  expect(ahead(weigh, kept("tare", "resin"))).toBe("hardener");
});

test("it goes on from where the server left it", () => {
  expect(ahead({ ...weigh, phase: "mix", ask: undefined }, kept("mix"))).toBe("poured");
  expect(ahead({ ...weigh, ask: { ...weigh.ask, what: "hardener" } }, kept("hardener"))).toBe("pigment");
  expect(wantedOf(weigh, "hardener")).toBe(9);
});

import { expect, test } from "vitest";
import type { Design, End, Node } from "../../api/client";
import { gripsOf, outward, setHandle, withoutNode } from "./grips";

const design: Design = {
  shape: "rectangle",
  length: 400,
  width: 240,
  thickness: 20,
  corner: 20,
  neck: 60,
  neckLength: 120,
  shoulder: 25,
  keepLeft: false,
  keepRight: false,
  handle: { kind: "hole", diameter: 30, length: 90, setback: 45, offset: 6 },
  edge: { kind: "none", size: 0 },
};
const seen = { box: [-200, -120, 200, 120], middles: [0, 0, 8], flank: { x: 20, y: -118 }, ends: [[-110, 112], [-118, 116]] };

const line: Node[] = [
  { x: -200, y: -120, round: 20 },
  { x: 200, y: -100, run: "arc", rise: 30 },
  { x: 180, y: 120, run: "batten", rise: -12.5 },
  { x: 40, y: 130, cut: 15, in: 6 },
];

const full: Design = {
  ...design,
  angle: 20,
  tip: 14,
  slant: 4,
  more: [
    { ...design.handle, far: true, offset: -20 },
    { ...design.handle, local: true, offset: 5 },
  ],
  recesses: [
    { kind: "well", x: -40, y: 10, length: 90, width: 60, depth: 6 },
    { kind: "ring", x: 60, y: 0, length: 50, depth: 3, radius: 4 },
    { kind: "groove", x: 0, y: 0, depth: 4, radius: 5, inset: 12 },
  ],
  nodes: line,
  asCut: undefined,
};

const shapes = ["rectangle", "oval", "circle", "square", "paddle", "teardrop", "blade", "heart", "half moon", "free"] as const;
const kinds = ["hole", "slot", "heart", "drop", "crescent", "own", "notch", "cord"] as const;
const ends: End[] = [{}, { kind: "angle", angle: -14 }, { kind: "curve", rise: 12 }, { kind: "tab", width: 48, length: 80, round: 12 }, { kind: "left" }];

const designs: [string, Design][] = [
  ...shapes.map((shape): [string, Design] => [shape, { ...full, shape }]),
  ["half a template", { ...full, shape: "free", half: true, nodes: [{ x: 190, y: 0, round: 9 }, { x: 0, y: 90, cut: 8 }, { x: -190, y: 0 }] }],
  ["as cut", { ...full, asCut: line }],
  ...kinds.map((kind): [string, Design] => [`handle: ${kind}`, { ...full, handle: { ...design.handle, kind, turn: 12, length: 95, nodes: line.map((n) => ({ ...n, x: n.x / 10, y: n.y / 10 })) } }]),
  ...ends.flatMap((handleEnd, i) => [[true, true], [true, false], [false, true]].map(([keepLeft, keepRight]): [string, Design] => [`plank ${i} ${keepLeft} ${keepRight}`, { ...full, shape: "plank", inset: 3, keepLeft, keepRight, handleEnd, farEnd: ends[ends.length - 1 - i] }])),
];

const parts = ["outline", "handles", "recesses", "cut"];

/** rounded makes designs alike that differ by less than a ten-millionth. */
const rounded = (d: Partial<Design>): unknown => JSON.parse(JSON.stringify(d, (_, v: unknown) => (typeof v === "number" ? Math.round(v * 1e7) / 1e7 + 0 : v)));

test.each(designs)("a grip of a design put where it stands changes nothing: %s", (_, d) => {
  for (const part of parts) {
    for (const g of gripsOf(d, part, seen)) expect(rounded({ ...d, ...g.drag(d, g.at) }), `${part} ${g.id}`).toEqual(rounded(d));
  }
});

test.each(designs)("a grip stands where it has brought its dimension: %s", (_, d) => {
  for (const part of parts) {
    for (const g of gripsOf(d, part, seen)) {
      if (g.id === "inset" || g.id.startsWith("recess-inset")) continue; // these stand on the outline as it was reckoned
      const moved = { ...d, ...g.drag(d, { x: g.at.x + 7, y: g.at.y - 5 }) };
      const again = gripsOf(moved, part, seen).find((o) => o.id === g.id);
      if (again) expect(rounded({ ...moved, ...again.drag(moved, again.at) }), `${part} ${g.id}`).toEqual(rounded(moved));
    }
  }
});

test("every dimension of a shape has its grip", () => {
  const ids = (d: Design, part = "outline") => gripsOf(d, part, seen).map((g) => g.id);
  expect(ids({ ...full, shape: "paddle" })).toEqual(["length", "width", "corner", "neck", "neckLength", "shoulder", "tip", "slant"]);
  expect(ids({ ...full, shape: "heart" })).toEqual(["length", "width", "tip", "shoulder", "slant"]);
  expect(ids({ ...full, shape: "plank", keepLeft: true, handleEnd: ends[3], farEnd: ends[1] })).toEqual(["length", "width", "inset", "handleEnd-width", "handleEnd-length", "handleEnd-round", "farEnd-angle", "slant"]);
  const own = { ...full, more: [], handle: { ...design.handle, kind: "own" as const, nodes: line } };
  expect(ids(own, "handles")).toEqual(["handle-0", "own-0-0", "own-0-round-0", "own-0-1", "own-0-rise-1", "own-0-2", "own-0-rise-2", "own-0-3", "own-0-in-3", "own-0-cut-3", "handle-turn-0"]);
  expect(withoutNode(own, "own-0-2").handle?.nodes).toHaveLength(3);
  expect(withoutNode({ ...full, half: true, nodes: line.slice(0, 3) }, "node-1").nodes).toHaveLength(2);
  expect(withoutNode({ ...full, half: true, nodes: line.slice(0, 2) }, "node-1"), "half a template needs two").toEqual({});
  expect(withoutNode(full, "length")).toEqual({});
});

test("a full round stays one until the grip leaves it", () => {
  const d: Design = { ...design, shape: "paddle", tip: 0 };
  const tip = gripsOf(d, "outline", seen).find((g) => g.id === "tip")!;
  expect(tip.at.x).toBe(200 - 30);
  expect(tip.drag(d, { x: 150, y: 0 })).toEqual({});
  expect(tip.drag(d, { x: 190, y: 0 })).toEqual({ tip: 10 });
});

test("a grip sets its own dimension", () => {
  const grip = (id: string) => gripsOf({ ...design, shape: "paddle" }, "outline", seen).find((g) => g.id === id)!;
  expect(grip("length").drag(design, { x: -210, y: 3 })).toEqual({ length: 420 });
  expect(grip("neck").drag(design, { x: 150, y: 33.2 })).toEqual({ neck: 66.5 });
  expect(grip("neckLength").drag(design, { x: 70, y: 0 })).toEqual({ neckLength: 130 });
});

test("a handle near the centre line snaps to it", () => {
  const [g] = gripsOf(design, "handles", seen);
  expect(g.drag(design, { x: 150, y: 1.2 })).toEqual({ handle: { ...design.handle, setback: 50, offset: 0 } });
  expect(setHandle({ ...design, more: [design.handle] }, 1, { offset: 9 })).toEqual({ more: [{ ...design.handle, offset: 9 }] });
});

test("outward points away from the inside, whichever way the nodes run", () => {
  const square = [
    { x: 0, y: 0 },
    { x: 10, y: 0 },
    { x: 10, y: 10 },
    { x: 0, y: 10 },
  ];
  expect(outward(square, 0).n.y).toBeLessThan(0);
  expect(outward([...square].reverse(), 2).n.y).toBeLessThan(0);
});

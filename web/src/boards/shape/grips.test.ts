import { expect, test } from "vitest";
import type { Design, Grip, Motion } from "../../api/client";
import { drag, dragged, lineGrips, nudge, placed } from "./grips";
import { nodesOf, setHandle, started, withNodes, withoutNode } from "./lines";

const motion = (path: string, value: number, x: number, y: number, more: Partial<Motion> = {}): Motion => ({
  path,
  value,
  axis: { x, y },
  least: 0,
  most: 90,
  step: 0.5,
  ...more,
});
const grip = (x: number, y: number, ...moves: Motion[]): Grip => ({
  key: "g",
  part: "outline",
  label: "G",
  at: { x, y },
  moves,
});
const corner = grip(90, 90, motion("/corner", 90, -1, 0));

test.each([
  ["along its axis", { x: 100.3, y: 0 }, 79.5],
  ["no less than the least", { x: 300, y: 0 }, 0],
  ["no more than the most", { x: 20, y: 90 }, 90],
  ["across its axis", { x: 90, y: 20 }, 90],
])("a value follows its grip %s", (_, to, want) => {
  expect(dragged(corner.moves[0], corner.at, to)).toBe(want);
});

test("a value that does not fit is changed from what is drawn, and only when its grip is moved", () => {
  const d = { corner: 500 };
  expect(drag(d, corner, corner.at)).toBe(d);
  expect(drag(d, corner, { x: 95, y: 90 })).toEqual({ corner: 85 });
  expect(nudge(d, corner, { x: 0, y: 1 })).toBe(d);
  expect(nudge(d, corner, { x: 1, y: 0 })).toEqual({ corner: 89 });
});

test("a grip that is brought back brings its value back", () => {
  const d = { corner: 90 };
  expect(drag(drag(d, corner, { x: 120, y: 90 }), corner, corner.at)).toEqual(d);
});

test("keys add up before an answer comes", () => {
  let d = { corner: 40 };
  const g = grip(140, 90, motion("/corner", 40, -1, 0));
  for (let i = 0; i < 3; i++) d = nudge(d, g, { x: 1, y: 0 });
  expect(d.corner).toBe(37);
});

test("a key moves a value by a step at the least, and leaves what is felt", () => {
  const lean = grip(0, 0, motion("/angle", 10, 4, 0));
  expect(nudge({ angle: 10 }, lean, { x: 1, y: 0 }).angle).toBe(10.5);
  const offset = grip(0, 0, motion("/offset", 0, 0, 1, { least: -50, felt: 0 }));
  expect(nudge({ offset: 0 }, offset, { x: 0, y: 1 }).offset).toBe(1);
  expect(drag({ offset: 0 }, offset, { x: 0, y: 1.2 }).offset).toBe(0);
  const turn = grip(62, 0, motion("/turn", 0, 0, 0, { about: { x: 0, y: 0 }, least: -360, most: 360, step: 1 }));
  expect(nudge({ turn: 0 }, turn, { x: 0, y: 0.1 }).turn).toBe(1);
  expect(drag({ turn: 0 }, turn, { x: -62, y: -0.001 }).turn).toBe(-180);
});

test("a full round stays one until its grip leaves it", () => {
  const tip = grip(170, -30, motion("/tip", 30, -1, 0, { least: 0.5, most: 30, mostAs: 0 }));
  expect(drag({ tip: 0 }, tip, { x: 150, y: -30 })).toEqual({ tip: 0 });
  expect(drag({ tip: 0 }, tip, { x: 180, y: -30 })).toEqual({ tip: 20 });
  expect(drag({ tip: 20 }, tip, { x: 160, y: -30 })).toEqual({ tip: 0 });
});

test("a grip moves what it names, in lists and where nothing stands yet", () => {
  const d = { more: [{ setback: 1 }, { setback: 2 }], handleEnd: {}, recesses: [{ x: 0, y: 0 }] };
  expect(drag(d, grip(0, 0, motion("/more/1/setback", 2, 1, 0)), { x: 5, y: 0 }).more).toEqual([
    { setback: 1 },
    { setback: 7 },
  ]);
  expect(drag(d, grip(0, 0, motion("/handleEnd/rise", 0, 1, 0)), { x: 5, y: 0 }).handleEnd).toEqual({ rise: 5 });
  expect(drag(d, grip(0, 0, motion("/more/4/setback", 2, 1, 0)), { x: 5, y: 0 }).more, "it has gone").toEqual(d.more);
  const both = grip(0, 0, motion("/recesses/0/x", 0, 1, 0), motion("/recesses/0/y", 0, 0, 1));
  expect(drag(d, both, { x: 3, y: 4 }).recesses).toEqual([{ x: 3, y: 4 }]);
});

test("while it is dragged a grip is drawn where its value is", () => {
  expect(placed(corner, { x: 100.3, y: 44 })).toEqual({ x: 100.5, y: 90 });
  expect(placed(corner, { x: 20, y: 90 })).toEqual(corner.at);
  const turn = grip(10, 0, motion("/turn", 0, 0, 0, { about: { x: 0, y: 0 } }));
  const p = placed(turn, { x: 0, y: 30 });
  expect([p.x, p.y].map((v) => Math.round(v * 1e6) / 1e6 + 0)).toEqual([0, 10]);
});

test("the points of a line across move where they are dragged", () => {
  const line = [
    { x: 0, y: 0 },
    { x: 10, y: 5 },
  ];
  expect(drag(line, lineGrips(line, "line")[1], { x: 12.34, y: -3 })).toEqual([
    { x: 0, y: 0 },
    { x: 12.3, y: -3 },
  ]);
});

const hole = {
  kind: "own",
  diameter: 30,
  length: 90,
  setback: 45,
  offset: 0,
  nodes: [
    { x: 0, y: 0 },
    { x: 9, y: 0 },
    { x: 0, y: 9 },
  ],
};
const design = { handle: hole, more: [hole], nodes: hole.nodes } as unknown as Design;

test("a line of a design is read and changed by its name", () => {
  expect(nodesOf(design, "own-1")).toBe(hole.nodes);
  expect(nodesOf(design, "cut")).toEqual([]);
  expect(withNodes(design, "cut", hole.nodes)).toEqual({ asCut: hole.nodes });
  expect(withoutNode(design, "own-1-2").more?.[0].nodes).toEqual(hole.nodes.slice(0, 2));
  expect(withoutNode(design, "node-0").nodes).toEqual(hole.nodes.slice(1));
  expect(withoutNode(design, "length")).toEqual({});
  expect(setHandle(design, 1, { offset: 3 }).more?.[0].offset).toBe(3);
});

test("a kind begins with what is not set yet", () => {
  expect(started({ kind: "tab", width: 48 }, { width: 50, length: 90 })).toEqual({
    kind: "tab",
    width: 48,
    length: 90,
  });
  expect(started({ kind: "none" }, undefined)).toEqual({ kind: "none" });
});

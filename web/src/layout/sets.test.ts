import { expect, test } from "vitest";
import type { Board, Placed } from "../api/client";
import { out, standing } from "../boards/frame";
import { copyOf, laidBy, setOf, together, wantOf } from "./sets";

const design = { shape: "rectangle", length: 200, width: 100 } as Board["design"];
const board = (id: string, more: Partial<Board> = {}): Board =>
  ({ id, name: id.toUpperCase(), placement: { x: 0, y: 0, angle: 0, flip: false }, design, ...more }) as Board;
const mate = (id: string) => ({ board: id, gap: 0.8, at: { x: 0, y: 50, angle: 0, flip: false } });

const boards = [
  board("a", { mates: [mate("b")] }),
  board("b", { placement: { x: 10, y: 60, angle: 0, flip: false } }),
  board("c"),
  board("d", { mates: [mate("b")] }),
  board("e", { mates: [mate("gone")] }),
];

test("boards that must mate move together, whichever of them knows it", () => {
  expect([...together(boards, "b")].sort()).toEqual(["a", "b", "d"]);
  expect([...together(boards, "c")]).toEqual(["c"]);
  expect([...together(boards, "e")]).toEqual(["e"]); // its mate is not on this slab
  expect(setOf(boards, "d").map((b) => b.id)).toEqual(["d", "a", "b"]);
});

test("a wish for a set holds its boards where they lie beside each other", () => {
  const w = wantOf(setOf(boards, "a"));
  expect(w.want.board.mates).toBeUndefined();
  expect(w.want.with?.map((o) => [o.id, o.placement.x, o.placement.y, o.mates])).toEqual([
    ["b", 10, 60, undefined],
    ["d", 0, 0, undefined],
  ]);
  expect([w.want.least, w.want.most]).toEqual([1, 4]);
  expect(wantOf([board("c")], true).want.most).toBe(1);
});

test.each([
  { x: 30, y: -12, angle: 25, flip: false },
  { x: 30, y: -12, angle: 25, flip: true },
  { x: -5, y: 7, angle: -160, flip: true },
])("standing tells the place of another board in the frame of one at %o", (placement) => {
  const one = board("one", { placement });
  const other = board("other", { placement: { x: 44, y: 18, angle: 40, flip: false } });
  const at = standing(one, other);
  for (const p of [
    { x: 0, y: 0 },
    { x: 60, y: -20 },
  ]) {
    const there = out(one.placement, out(at, p));
    const direct = out(other.placement, p);
    expect(there.x).toBeCloseTo(direct.x, 0);
    expect(there.y).toBeCloseTo(direct.y, 0);
  }
});

const placed = (want: number, part: number, x: number): Placed => ({
  want,
  part,
  placement: { x, y: 0, angle: 0, flip: false },
  design,
  path: "",
  holes: [],
});

test("new sets mate among themselves, as those do that they are like", () => {
  const asked = [wantOf(setOf(boards, "a").slice(0, 2))];
  const laid = laidBy([placed(0, 0, 100), placed(0, 1, 110), placed(0, 0, 300), placed(0, 1, 310)], asked, "");
  expect(laid.map((b) => b.name)).toEqual(["A 1", "B 1", "A 2", "B 2"]);
  expect(new Set(laid.map((b) => b.id)).size).toBe(4);
  expect(laid[0].mates?.map((m) => m.board)).toEqual([laid[1].id]);
  expect(laid[2].mates?.map((m) => m.board)).toEqual([laid[3].id]);
  expect(laid[1].mates).toBeUndefined();
});

test("boards that are laid anew keep their ids, mates and twins", () => {
  const twin = { board: "its twin", piece: "leaf" };
  const asked = [wantOf([board("a", { mates: [mate("b")], twin }), board("b")], true)];
  expect(asked[0].want.twin).toBe(true);
  const laid = laidBy([placed(0, 0, 100), placed(0, 1, 110)], asked, "leaf");
  expect(laid.map((b) => [b.id, b.placement.x])).toEqual([
    ["a", 100],
    ["b", 110],
  ]);
  expect(laid[0].mates?.[0].board).toBe("b");
  expect(laid[0].twin).toEqual(twin);
  expect(laid[1].twin?.piece).toBe("leaf"); // the other of the set gets one too
});

test("a copy has nothing that belongs to one board alone", () => {
  const copy = copyOf(board("a", { mates: [mate("b")], twin: { board: "t", piece: "p" }, locked: true }), "another");
  expect([copy.name, copy.mates, copy.twin, copy.locked]).toEqual(["another", undefined, undefined, false]);
  expect(copy.id).not.toBe("a");
  const asked = { ...wantOf([board("c")]), moves: false };
  asked.want.twin = true;
  const [laid] = laidBy([placed(0, 0, 5)], [asked], "leaf");
  expect(laid.twin?.piece).toBe("leaf");
  expect(laidBy([placed(0, 0, 5)], [asked], "")[0].twin).toBeUndefined(); // there is no other leaf
});

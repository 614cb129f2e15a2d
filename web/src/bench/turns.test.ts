import { expect, test } from "vitest";
import type { Turn } from "../api/client";
import { keysOf, moved } from "./Turns";

test("turns are moved, and their steps named as the plan names them", () => {
  expect(moved(["a", "b", "c"], 2, 0)).toEqual(["c", "a", "b"]);
  expect(moved(["a", "b", "c"], 0, 1)).toEqual(["b", "a", "c"]);
  const of = (id: string, step: string) => ({ subject: { kind: "board", id }, step });
  const turns = [{ steps: [of("7", "sand-80"), of("8", "sand-80")] }, { steps: [of("7", "bore")] }] as Turn[];
  expect(keysOf(turns)).toEqual(["board:7/sand-80", "board:8/sand-80", "board:7/bore"]);
});

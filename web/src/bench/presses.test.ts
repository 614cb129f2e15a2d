import { beforeEach, expect, test, vi } from "vitest";
import { Refused, type BenchBoard } from "../api/client";
import { Presses, withPresses, type Press } from "./presses";

function shelf() {
  const kept = new Map<string, string>();
  return { getItem: (k: string) => kept.get(k) ?? null, setItem: (k: string, v: string) => void kept.set(k, v) };
}

const finish = (step: string) => ({
  board: "b",
  step,
  title: step,
  event: "finish" as const,
  minutes: 7,
  at: "2031-04-22T15:30:00Z",
});

beforeEach(() => void vi.useFakeTimers());

test("what is pressed while the server is away is kept with its time, and sent in order", async () => {
  const on = shelf();
  let away = true;
  const sent: (Press & { late: boolean })[] = [];
  const send = (p: Press, late: boolean) => {
    if (away) return Promise.reject(new TypeError("no server"));
    sent.push({ ...p, late });
    return Promise.resolve();
  };
  const presses = new Presses(on, "k", send);
  await presses.add(finish("one"));
  await presses.add(finish("two"));
  expect(presses.waiting().map((p) => p.step)).toEqual(["one", "two"]);
  expect(sent).toEqual([]);

  const opened = new Presses(on, "k", send); // the page is opened anew
  expect(opened.waiting()).toEqual(presses.waiting());
  away = false;
  await opened.flush();
  expect(sent.map((p) => [p.step, p.at, p.late])).toEqual([
    ["one", "2031-04-22T15:30:00Z", true],
    ["two", "2031-04-22T15:30:00Z", true],
  ]);

  expect(new Set(sent.map((p) => p.name)).size).toBe(2);
  expect(opened.waiting()).toEqual([]);
  await opened.add(finish("three"));
  expect(sent[2].late, "it goes by the server's clock").toBe(false);
  expect(new Presses(on, "k", send).waiting()).toEqual([]);
});

test("it is tried again by itself under the same name", async () => {
  const names: string[] = [];
  const presses = new Presses(shelf(), "k", (p) => {
    names.push(p.name);
    return names.length < 3 ? Promise.reject(new TypeError("no server")) : Promise.resolve();
  });
  await presses.add(finish("one"));
  await vi.advanceTimersByTimeAsync(6000);
  expect(names).toHaveLength(3);
  expect(new Set(names).size).toBe(1);
  expect(presses.waiting()).toEqual([]);
});

test("what is refused says why and keeps nothing else back", async () => {
  const sent: string[] = [];
  const presses = new Presses(shelf(), "k", (p) => {
    sent.push(p.step);
    return p.step === "one"
      ? Promise.reject(new Refused(409, { type: "about:blank", detail: "it is done" }))
      : Promise.resolve();
  });
  await presses.add(finish("one"));
  await presses.add({ ...finish("two"), board: "c" });
  expect(sent).toEqual(["one", "two"]);
  expect(presses.refused().map((r) => r.why)).toEqual(["it is done"]);
  await presses.add(finish("three"));
  expect(presses.refused()).toEqual([]);
});

test("boards are shown as they will stand", () => {
  const step = (key: string) => ({ key, state: "to do", spent: 0 });
  const board = { course: { subject: { id: "b" }, steps: [step("one"), step("two")] } } as unknown as BenchBoard;
  const [shown] = withPresses([board], [{ ...finish("one"), name: "n" }]);
  expect(shown.course.steps.map((s) => [s.state, s.spent])).toEqual([
    ["done", 7],
    ["to do", 0],
  ]);
});

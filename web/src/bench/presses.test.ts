import { beforeEach, expect, test, vi } from "vitest";
import { Refused, type BenchBoard } from "../api/client";
import { Presses, spentOf, withPresses, type Press } from "./presses";

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
    return Promise.resolve(1);
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
    ["one", "2031-04-22T15:30:00.000Z", true],
    ["two", "2031-04-22T15:30:00.001Z", true],
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
    return names.length < 3 ? Promise.reject(new TypeError("no server")) : Promise.resolve(1);
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
      : Promise.resolve(1);
  });
  await presses.add(finish("one"));
  await presses.add({ ...finish("two"), board: "c" });
  expect(sent).toEqual(["one", "two"]);
  expect(presses.refused().map((r) => r.why)).toEqual(["it is done"]);
  await presses.add(finish("three"));
  expect(presses.refused()).toEqual([]);
});

test("boards are shown as they will stand", () => {
  const step = (key: string) => ({ key, state: "to do", spent: 0, wait: 0, rest: 0 });
  const board = { course: { subject: { id: "b" }, steps: [step("one"), step("two")] } } as unknown as BenchBoard;
  const [shown] = withPresses([board], [{ ...finish("one"), name: "n" }], 0);
  expect(shown.course.steps.map((s) => [s.state, s.spent])).toEqual([
    ["done", 7],
    ["to do", 0],
  ]);
});

test("two windows of one device lose nothing to each other, nor to a shelf that cannot be read", async () => {
  const on = shelf();
  const names: string[] = [];
  let away = true;
  const send = (p: Press) => {
    if (away) return Promise.reject(new TypeError("no server"));
    names.push(p.name);
    return Promise.resolve(1);
  };
  const one = new Presses(on, "k", send);
  const other = new Presses(on, "k", send);
  await one.add(finish("one"));
  await other.add(finish("two"));
  expect(new Presses(on, "k", send).waiting().map((p) => p.step)).toEqual(["one", "two"]);
  away = false;
  await one.flush();
  await other.flush();
  expect(new Set(names).size).toBe(2);
  expect(new Presses(on, "k", send).count()).toBe(0);

  on.setItem("k", "{ nonsense");
  expect(new Presses(on, "k", send).count()).toBe(0);
});

test("what was sent is shown beyond an answer that is older", async () => {
  let refreshed = 0;
  let line = 40;
  const presses = new Presses(
    shelf(),
    "k",
    () => Promise.resolve(++line),
    () => Promise.resolve(refreshed++),
  );
  await presses.add(finish("one"));
  await presses.add(finish("two"));
  expect(refreshed).toBe(2);
  const steps = (line: number) => presses.untold(line).map((p) => p.step);
  // Whichever answer is shown, in whatever order answers came: it is known how far each knows the log.
  expect([steps(42), steps(41), steps(40), steps(42)]).toEqual([[], ["two"], ["one", "two"], []]);
  expect(new Presses(presses.shelf, "k", presses.send).untold(41), "after a reload").toHaveLength(1);
});

test("the clock of a step goes by when it was pressed, whenever the answer that is shown was read", () => {
  const read = Date.parse("2031-04-22T15:00:00Z");
  const at = (minute: number) => new Date(read + minute * 60000).toISOString();
  const step = { key: "one", state: "paused", spent: 7, wait: 30, rest: 0 };
  const board = { course: { subject: { id: "b" }, steps: [step] } } as BenchBoard;
  const press = (event: Press["event"], minute: number): Press => ({
    ...finish("one"),
    event,
    at: at(minute),
    name: at(minute),
  });
  const shown = (...presses: Press[]) => withPresses([board], presses, read)[0].course.steps[0];
  const running = shown(press("start", 60));
  expect(running.state).toBe("running");
  expect(spentOf(running, read, read + 62 * 60000)).toBeCloseTo(9); // the hour of rest does not count
  const paused = shown(press("start", 60), press("pause", 64));
  expect([paused.state, spentOf(paused, read, read + 90 * 60000)]).toEqual(["paused", 11]);
  expect(shown(press("start", 60), press("undo", 61)).spent).toBe(0);
  const done = shown(press("finish", 61));
  expect([done.doneAt, done.waitUntil]).toEqual([at(61), at(91)]);
  // Begun and paused before it was read, and not known there yet.
  const late = shown(press("start", -10));
  expect(spentOf(late, read, read + 60000)).toBeCloseTo(18);
  expect(shown(press("start", -10), press("pause", -4)).spent).toBeCloseTo(13);
  // What the server tells of one that runs counts from when it was read.
  expect(spentOf({ state: "running", spent: 3, startedAt: at(-3) }, read, read + 2 * 60000)).toBeCloseTo(5);
});

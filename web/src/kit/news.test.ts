import { afterEach, beforeEach, expect, test, vi } from "vitest";
import { hear } from "./news";

class Line extends EventTarget {
  static readonly CLOSED = 2;
  static all: Line[] = [];
  readyState = 0;
  constructor(readonly url: string) {
    super();
    Line.all.push(this);
  }
  close() {
    this.readyState = 2;
  }
  tell(kind: string, data: unknown) {
    this.dispatchEvent(new MessageEvent(kind, { data: JSON.stringify(data) }));
  }
}

let page: EventTarget & { hidden: boolean };

beforeEach(() => {
  Line.all = [];
  page = Object.assign(new EventTarget(), { hidden: false });
  vi.stubGlobal("EventSource", Line);
  vi.stubGlobal("document", page);
  vi.useFakeTimers();
});

afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const see = (hidden: boolean) => {
  page.hidden = hidden;
  page.dispatchEvent(new Event("visibilitychange"));
};

test("all who hear share one line, which ends with the last", () => {
  const changed: string[] = [];
  const offs = [hear({ changed: (by) => changed.push(by) }), hear({ reading: () => undefined })];
  expect(Line.all.length).toBe(1);
  Line.all[0].tell("open", {});
  Line.all[0].tell("changed", { by: "the phone" });
  expect(changed).toEqual(["", "the phone"]);
  offs.forEach((off) => off());
  expect(Line.all[0].readyState).toBe(2);
});

test("a page that nobody sees has no line, and reads again when it is seen", () => {
  const changed: string[] = [];
  const listening: boolean[] = [];
  const off = hear({ changed: (by) => changed.push(by), listening: (yes) => listening.push(yes) });
  Line.all[0].tell("open", {});
  see(true);
  expect(Line.all[0].readyState).toBe(2);
  see(false);
  expect(Line.all.length).toBe(2);
  Line.all[1].tell("open", {});
  expect(changed).toEqual(["", ""]);
  expect(listening).toEqual([false, true, false, true]);
  off();
  see(true);
  see(false);
  expect(Line.all.length).toBe(2);
});

test("a line that the server refused is tried again", () => {
  const changed: string[] = [];
  const off = hear({ changed: (by) => changed.push(by) });
  Line.all[0].close();
  Line.all[0].dispatchEvent(new Event("error"));
  vi.advanceTimersByTime(60_000);
  expect(Line.all.length).toBe(2);
  expect(changed).toEqual([""]); // a sign-in that has ended is learned of
  off();
  Line.all[1].close();
  Line.all[1].dispatchEvent(new Event("error"));
  vi.advanceTimersByTime(60_000);
  expect(Line.all.length).toBe(2);
});

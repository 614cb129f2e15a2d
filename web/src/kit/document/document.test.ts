import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { Refused } from "../../api/client";
import { Document, type Options } from "./document";
import { Outbox } from "./outbox";
import type { Saved } from "./saver";

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

const quiet = 500;
const retry = 2500;
const flush = () => vi.advanceTimersByTimeAsync(0);
const after = (ms: number) => vi.advanceTimersByTimeAsync(ms);

/** Asked is a question to the server that waits for its answer. */
interface Asked<A> {
  doc: string;
  version?: number;
  answer: (a: A) => Promise<unknown>;
  fail: (e: unknown) => Promise<unknown>;
}

/** server records what it is asked, and answers when it is told to. */
function server() {
  const drafts: Asked<string>[] = [];
  const closer: Asked<string>[] = [];
  const saves: Asked<Saved<string>>[] = [];
  const ask =
    <A>(list: Asked<A>[]) =>
    (doc: string, version?: number) =>
      new Promise<A>((resolve, reject) => {
        const told = (go: () => void) => {
          go();
          return flush();
        };
        list.push({ doc, version, answer: (a) => told(() => resolve(a)), fail: (e) => told(() => reject(e)) });
      });
  return { drafts, closer, saves, draft: ask(drafts), whenQuiet: ask(closer), save: ask(saves) };
}

function opened(more: Partial<Options<string, string>> = {}) {
  const s = server();
  const d = new Document<string, string>({
    doc: "a",
    version: 1,
    result: "of a",
    draft: s.draft,
    save: s.save,
    ...more,
  });
  d.open();
  return { ...s, d };
}

const wrong = (status: number) => new Refused(status, { type: "about:blank", title: "no", detail: "no" });
const gone = new TypeError("no connection");

describe("drafts", () => {
  test("one question at a time, always the newest next", async () => {
    const { d, drafts } = opened();
    d.set("b");
    d.set("c");
    d.set("d");
    expect(drafts.map((o) => o.doc)).toEqual(["b"]);
    await drafts[0].answer("of b");
    expect(d.shown().result).toBe("of b");
    expect(drafts.map((o) => o.doc)).toEqual(["b", "d"]);
    await drafts[1].answer("of d");
    expect([d.shown().doc, d.shown().result, drafts.length]).toEqual(["d", "of d", 2]);
  });

  test("a closer look comes after the quiet, and a late one is dropped", async () => {
    const s = server();
    const { d, drafts } = opened({ whenQuiet: s.whenQuiet });
    d.set("b");
    await after(299);
    expect(s.closer).toHaveLength(0);
    await after(1);
    expect(s.closer.map((o) => o.doc)).toEqual(["b"]);
    await s.closer[0].answer("b, closely");
    expect(d.shown().result).toBe("b, closely");
    await drafts[0].answer("of b"); // late: what was looked at more closely stays
    expect(d.shown().result).toBe("b, closely");
    d.set("c");
    await after(300);
    d.set("d");
    await s.closer[1].answer("c, closely");
    expect(d.shown().result).toBe("b, closely");
  });

  test("a refusal is said while it is about the newest document", async () => {
    const { d, drafts } = opened();
    d.set("b");
    await drafts[0].fail(wrong(422));
    expect(d.shown().state).toEqual({ kind: "refused", why: "no" });
    d.undo();
    expect(d.shown().state.kind).toBe("saved");
  });

  test("what the server missed is asked once a save shows that it is back", async () => {
    const { d, drafts, saves } = opened();
    d.set("b");
    await drafts[0].fail(gone);
    expect(drafts).toHaveLength(1);
    await after(quiet);
    await saves[0].answer({ version: 2 });
    expect(drafts.map((o) => o.doc)).toEqual(["b", "b"]);
  });
});

describe("saves", () => {
  test("after a little quiet, the newest document at its version", async () => {
    const { d, saves } = opened();
    d.set("b");
    expect(d.shown().state.kind).toBe("saving");
    await after(quiet - 1);
    d.set("c");
    await after(quiet - 1);
    expect(saves).toHaveLength(0);
    await after(1);
    expect(saves.map((o) => [o.doc, o.version])).toEqual([["c", 1]]);
    await saves[0].answer({ version: 7 });
    expect([d.shown().state.kind, d.version(), d.unsaved()]).toEqual(["saved", 7, false]);
  });

  test("what changes meanwhile is saved next, never two at a time", async () => {
    const { d, saves } = opened();
    d.set("b");
    await after(quiet);
    d.set("c");
    await after(10 * quiet);
    expect(saves).toHaveLength(1);
    await saves[0].answer({ version: 2 });
    expect(d.shown().state.kind).toBe("saving");
    await after(quiet);
    expect(saves.map((o) => [o.doc, o.version])).toEqual([
      ["b", 1],
      ["c", 2],
    ]);
  });

  test("undone while it is being saved, what was before is saved again", async () => {
    const { d, saves } = opened();
    d.set("b");
    await after(quiet);
    d.undo();
    expect([d.shown().doc, d.unsaved()]).toEqual(["a", false]);
    await saves[0].answer({ version: 2 });
    await after(quiet);
    expect(saves.map((o) => [o.doc, o.version])).toEqual([
      ["b", 1],
      ["a", 2],
    ]);
  });

  test.each([
    ["no answer", gone],
    ["a fault", wrong(503)],
    ["signed out", wrong(401)],
  ])("tries again after %s", async (_, e) => {
    const { d, saves } = opened();
    d.set("b");
    await after(quiet);
    await saves[0].fail(e);
    expect(d.shown().state.kind).toBe("away");
    await after(retry);
    expect(saves).toHaveLength(2);
    await saves[1].answer({ version: 2 });
    expect(d.shown().state.kind).toBe("saved");
  });

  test("what is refused waits for the next change", async () => {
    const { d, saves } = opened();
    d.set("b");
    await after(quiet);
    await saves[0].fail(wrong(422));
    await after(10 * retry);
    expect([saves.length, d.shown().state.kind]).toEqual([1, "refused"]);
    d.set("c");
    await after(quiet);
    expect(saves[1].doc).toBe("c");
  });

  test("a change that came while the one before was refused is saved", async () => {
    const { d, saves } = opened();
    d.set("b");
    await after(quiet);
    d.set("c");
    await after(quiet);
    await saves[0].fail(wrong(422));
    await after(quiet);
    expect(saves[1].doc).toBe("c");
  });
});

describe("a conflict", () => {
  async function conflicted() {
    const o = opened();
    o.d.set("mine");
    await after(quiet);
    await o.saves[0].answer({ version: 5, stored: "theirs" });
    expect(o.d.shown().state).toEqual({ kind: "conflict", stored: "theirs", version: 5, both: [""] });
    o.d.set("mine, more");
    await after(10 * retry);
    expect(o.saves, "nothing is saved before one chooses").toHaveLength(1);
    return o;
  }

  test("keeps mine over what is stored", async () => {
    const { d, saves } = await conflicted();
    d.choose("mine");
    await flush();
    expect(saves[1]).toMatchObject({ doc: "mine, more", version: 5 });
    await saves[1].answer({ version: 6 });
    expect(d.shown().state.kind).toBe("saved");
  });

  test("holds for what is changed elsewhere again before mine is stored", async () => {
    const { d, saves } = await conflicted();
    d.choose("mine");
    await flush();
    await saves[1].answer({ version: 6, stored: "theirs again" });
    await flush();
    expect(saves[2]).toMatchObject({ doc: "mine, more", version: 6 });
    await saves[2].answer({ version: 7 });
    expect(d.shown().state.kind).toBe("saved");
  });

  test("stays one when the next change is refused as a draft", async () => {
    const { d, drafts } = await conflicted();
    await drafts[0].answer("of mine");
    await drafts[1].fail(wrong(422));
    expect(d.shown().state.kind).toBe("conflict");
  });

  test("takes what is stored, and can be undone", async () => {
    const { d, saves } = await conflicted();
    d.choose("theirs");
    expect([d.shown().doc, d.shown().state.kind, d.version(), d.unsaved()]).toEqual(["theirs", "saved", 5, false]);
    d.undo();
    await after(quiet);
    expect(saves[1]).toMatchObject({ doc: "mine, more", version: 5 });
  });
});

test("what another part of the page has stored is taken over, unless something is unsaved", async () => {
  const { d, saves } = opened();
  d.adopt("elsewhere", 2);
  expect([d.shown().doc, d.version(), d.unsaved()]).toEqual(["elsewhere", 2, false]);
  d.adopt("older", 1);
  expect(d.shown().doc).toBe("elsewhere");
  d.set("b");
  d.adopt("later", 3);
  expect([d.shown().doc, d.version()]).toEqual(["b", 2]);
  await after(quiet);
  expect(saves.map((o) => [o.doc, o.version])).toEqual([["b", 2]]);
});

describe("left", () => {
  test("before the quiet is over, it is saved at once, and again until it is", async () => {
    const { d, saves } = opened();
    const outbox = new Outbox();
    d.set("b");
    d.leave(outbox);
    await flush();
    expect(saves.map((o) => o.doc)).toEqual(["b"]);
    expect(outbox.size).toBe(1);
    await saves[0].fail(gone);
    await after(retry);
    await saves[1].answer({ version: 2 });
    expect(outbox.size).toBe(0);
  });

  test("while a save is under way, only what came after it is saved", async () => {
    const { d, saves } = opened();
    const outbox = new Outbox();
    d.set("b");
    await after(quiet);
    d.set("c");
    d.leave(outbox);
    await flush();
    expect(saves).toHaveLength(1);
    await saves[0].answer({ version: 2 });
    expect(saves.map((o) => [o.doc, o.version])).toEqual([
      ["b", 1],
      ["c", 2],
    ]);
  });

  test("with nothing unsaved, or only what is refused, nothing is kept", async () => {
    const { d, saves } = opened();
    const outbox = new Outbox();
    d.leave(outbox);
    await after(quiet);
    expect(saves).toHaveLength(0);
    d.set("b");
    d.leave(outbox);
    await flush();
    await saves[0].fail(wrong(422));
    expect(outbox.size).toBe(0);
  });

  test("and opened again, it goes on", async () => {
    const { d, saves } = opened();
    d.set("b");
    d.leave(new Outbox());
    d.open();
    await flush();
    expect(saves).toHaveLength(0);
    await after(quiet);
    expect(saves.map((o) => o.doc)).toEqual(["b"]);
  });
});

describe("kept on this device", () => {
  const kept = { base: "a", version: 1, doc: "b" };

  test("what was not stored goes on from what it was changed from", async () => {
    const s = server();
    const d = new Document<string, string>({ doc: "a", version: 1, result: "of a", ...s }, undefined, undefined, kept);
    expect([d.shown().doc, d.unsaved()]).toEqual(["b", true]);
    expect(d.work()).toEqual(kept);
    d.open();
    d.adopt("a, again", 2);
    expect(d.shown().doc, "it is not overwritten").toBe("b");
    await after(quiet);
    expect(s.saves.map((o) => [o.doc, o.version])).toEqual([["b", 1]]);
    await s.saves[0].answer({ version: 2 });
    expect([d.work(), d.shown().state.kind]).toEqual([null, "saved"]);
    d.undo();
    expect(d.shown().doc).toBe("a");
  });

  test("and is joined with what was stored elsewhere since", async () => {
    const s = server();
    const d = new Document<string, string>({ doc: "c", version: 5, result: "of c", ...s }, undefined, undefined, kept);
    d.open();
    await after(quiet);
    await s.saves[0].answer({ version: 5, stored: "c" });
    expect(d.shown().state).toMatchObject({ kind: "conflict", stored: "c" });
  });
});

test("whoever subscribes is told once a change, and no more after leaving", () => {
  const { d } = opened();
  let told = 0;
  const off = d.subscribe(() => told++);
  const before = d.shown();
  d.set("b");
  expect(told).toBe(1);
  expect(d.shown()).not.toBe(before);
  d.set("b");
  expect(told).toBe(1);
  off();
  d.undo();
  expect(told).toBe(1);
});

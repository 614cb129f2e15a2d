import { afterEach, expect, test, vi } from "vitest";
import { asking, newName } from "./asking";

afterEach(() => vi.unstubAllGlobals());

/** A server that gives these answers one after another, and what it was asked. */
function server(...answers: [number, string][]) {
  const asked: (string | null)[] = [];
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(request.headers.get("Idempotency-Key"));
    const [status, detail] = answers[Math.min(asked.length, answers.length) - 1];
    return Promise.resolve(new Response(JSON.stringify({ detail }), { status }));
  });
  return asked;
}

const put = () => new Request("http://x/api/boards/1", { method: "PUT", body: "{}" });

test("what may have been stored is asked again under the same name", async () => {
  const asked = server(
    [500, "broken; whether what you sent is stored is not known."],
    [503, "what you sent is stored"],
    [200, ""],
  );
  expect((await asking(put(), [0, 0, 0])).status).toBe(200);
  expect(asked).toHaveLength(3);
  expect(new Set(asked).size).toBe(1);
  expect(asked[0]).toMatch(/^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/);
});

test("a refusal and a fault that stored nothing are answers", async () => {
  for (const answer of [
    [422, "not right"],
    [503, "away; nothing was stored"],
  ] as [number, string][]) {
    const asked = server(answer);
    expect((await asking(put(), [0])).status).toBe(answer[0]);
    expect(asked).toHaveLength(1);
  }
});

test("each save has a name of its own, and what is read has none", async () => {
  const asked = server([200, ""]);
  await asking(put());
  await asking(put());
  await asking(new Request("http://x/api/boards"));
  expect(asked[0]).not.toBe(asked[1]);
  expect(asked[2]).toBeNull();
  expect(newName()).not.toBe(newName());
});

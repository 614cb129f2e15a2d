import { describe, expect, it } from "vitest";
import { showValue } from "./units";
import { shown } from "./instruments";

const reading = {
  instrument: "1",
  name: "m",
  at: "2031-03-04T12:00:00Z",
  percent: 0,
  below: false,
  temperature: 0,
  humidity: 0,
  grams: 0,
  settled: false,
};

const value = (v: number, of: string) => showValue(v, of, { units: "mm" });

describe("shown", () => {
  it("writes what the instrument shows", () => {
    expect(shown({ ...reading, kind: "moisture meter", percent: 9.44 }, value)).toBe("9.4 %");
    expect(shown({ ...reading, kind: "moisture meter", below: true }, value)).toBe("below its range");
    const room = { ...reading, kind: "room sensor", temperature: 18.25, humidity: 51.6 } as const;
    expect(shown(room, value)).toBe("18.3 °C, 52 %");
    expect(shown({ ...reading, kind: "scale", grams: 18.4 }, value)).toBe("18.4 g");
  });
});

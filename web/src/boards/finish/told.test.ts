import { describe, expect, it } from "vitest";
import { told, unitOf, units } from "./told";

describe("an act in words", () => {
  it("tells soak, wiping, wait and rub apart", () => {
    expect(told({ product: "oil", soak: 120, wipe: true, wait: 720, sand: 1200, wet: true })).toBe(
      "soaks 2 h, wiped, then 12 h, rubbed with P1200, wet",
    );
    expect(told({ product: "hard wax", soak: 15, wipe: true, haze: 15, buff: true })).toBe(
      "soaks 15 min, wiped, hazes 15 min, buffed",
    );
  });
  it("lets a paste haze that is not wiped", () => {
    expect(told({ product: "paste", soak: 20, buff: true }, true)).toBe("hazes 20 min, buffed");
    expect(told({ product: "paste", soak: 20, wipe: true }, true)).toBe("soaks 20 min, wiped");
  });
  it("tells a bath, a wait alone and nothing", () => {
    expect(told({ product: "oil", bath: true, soak: 720, wipe: true })).toBe("under oil in the tub, soaks 12 h, wiped");
    expect(told({ product: "", wait: 1440 * 30, sand: 600 })).toBe("then 30 days, rubbed with P600");
    expect(told({ product: "oil" })).toBe("");
  });
});

describe("the unit of a stretch of time", () => {
  it("is the largest that is whole", () => {
    for (const [minutes, unit] of [
      [0, "min"],
      [15, "min"],
      [90, "min"],
      [120, "h"],
      [720, "h"],
      [1440, "days"],
      [43200, "days"],
      [1500, "h"],
    ] as const) {
      expect(unitOf(minutes)).toBe(unit);
      expect((minutes / units[unitOf(minutes)]) % 1).toBe(0);
    }
  });
});

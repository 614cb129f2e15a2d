// Values of every unit as they are read and written. The rules return metric
// values; what a workshop measures in is chosen once, in three choices. Shown as
// craft/measure shows them, by the same table and the same test cases.
import table from "../../../craft/measure/units.json";
import { mmPerInch, showLength, showMinutes, type Unit } from "./length";

/** System is what a workshop measures in; what is empty goes with the lengths. */
export interface System {
  units: Unit;
  mass?: "" | "g" | "oz";
  warmth?: "" | "°C" | "°F";
}

interface Conversion {
  of: string;
  with: string;
  name: string;
  times: number;
  plus?: number;
}

const conversions = new Map<string, Conversion>(table.map((c) => [c.of, c]));

function customary(how: string, s: System): boolean {
  if (how === "mass" && s.mass) return s.mass === "oz";
  if (how === "warmth" && s.warmth) return s.warmth === "°F";
  return s.units === "in";
}

/** A field of a unit: what it is called, and how its values go in and out. */
export interface Scale {
  name: string;
  shown: (metric: number) => number;
  metric: (shown: number) => number;
}

/** scaleOf tells how a metric unit is entered in a system. */
export function scaleOf(of: string, s: System): Scale {
  const c = conversions.get(of);
  if (!c || !customary(c.with, s)) return { name: of, shown: (v) => v, metric: (v) => v };
  const plus = c.plus ?? 0;
  return { name: c.name, shown: (v) => v * c.times + plus, metric: (v) => (v - plus) / c.times };
}

const ouncesPerPound = 16;

/** showValue writes a value of any unit for reading. */
export function showValue(value: number, of: string, s: System): string {
  switch (of) {
    case "mm":
      return showLength(value, s.units);
    case "bit":
      return showSize(value, s.units);
    case "min":
      return showMinutes(value);
    case "cents":
      return (value / 100).toFixed(2);
    case "d":
      return `${round(value)} ${round(value) === "1" ? "day" : "days"}`;
    case "°":
      return `${round(value)}°`;
    case "piece":
    case "pieces":
      return `${round(value)} ${value === 1 ? "piece" : "pieces"}`;
    case "":
      return round(value);
  }
  const { name, shown } = scaleOf(of, s);
  const v = shown(value);
  if (name === "lb") return showPounds(v * ouncesPerPound);
  if (name === "oz" && Math.abs(v) >= ouncesPerPound) return showPounds(v);
  return `${round(v)} ${name}`;
}

function showPounds(ounces: number): string {
  const all = Math.round(Math.abs(ounces) * 10) / 10;
  const whole = Math.floor(all / ouncesPerPound);
  const rest = round(Math.round((all - whole * ouncesPerPound) * 10) / 10);
  const text = whole === 0 ? `${rest} oz` : rest === "0" ? `${whole} lb` : `${whole} lb ${rest} oz`;
  return (ounces < 0 ? "-" : "") + text;
}

function round(v: number): string {
  const a = Math.abs(v);
  if (a < 0.1) return String(Number(v.toPrecision(3)) + 0);
  return String(Number(v.toFixed(a >= 100 ? 0 : a >= 10 ? 1 : 2)) + 0);
}

/** showSize writes the diameter of a tool as it is engraved on it. */
export function showSize(mm: number, unit: Unit): string {
  if (unit === "in" && isStep(mm, mmPerInch / 16)) return engraved(mm); // 25 mm is 63/64" too, which nobody engraves
  if (isStep(mm, 0.5)) return showLength(mm, "mm");
  return isStep(mm, mmPerInch / 64) ? engraved(mm) : showLength(mm, unit);
}

function isStep(mm: number, step: number): boolean {
  const n = Math.round(mm / step);
  return n >= 1 && Math.abs(mm - n * step) < 0.011;
}

function engraved(mm: number): string {
  const steps = Math.round((mm / mmPerInch) * 64);
  const whole = Math.floor(steps / 64);
  let [top, bottom] = [steps % 64, 64];
  while (top > 0 && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2];
  const parts = [whole > 0 || top === 0 ? String(whole) : "", top > 0 ? `${top}/${bottom}` : ""];
  return `${parts.filter(Boolean).join(" ")}"`;
}

/** showText writes a text whose values stand in braces, those of lengths in mm without their unit. */
export const showText = (text: string, s: System): string =>
  text.replace(/\{(-?[\d.]+(?:e[-+]?\d+)?)(?: ([^{}]+))?\}/g, (_, v, of) => showValue(Number(v), of ?? "mm", s));

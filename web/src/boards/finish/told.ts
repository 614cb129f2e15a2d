// What an act of a finish is, in words.
import type { Act } from "../../api/client";
import { showMinutes } from "../../kit/length";

/** told is what is done, and how long it waits; wax hazes where it is not wiped. */
export function told(a: Act, wax = false): string {
  const words: string[] = [];
  if (a.bath) words.push("under oil in the tub");
  if (a.soak) words.push(`${wax && !a.wipe ? "hazes" : "soaks"} ${showMinutes(a.soak)}`);
  if (a.wipe) words.push("wiped");
  if (a.haze) words.push(`hazes ${showMinutes(a.haze)}`);
  if (a.buff) words.push("buffed");
  if (a.wait) words.push(`then ${showMinutes(a.wait)}`);
  if (a.sand) words.push(`rubbed with P${a.sand}${a.wet ? ", wet" : ""}`);
  return words.join(", ");
}

/** The units in which a stretch of time is typed, in minutes. */
export const units = { min: 1, h: 60, days: 1440 };

/** unitOf is the largest unit in which a stretch of time is a whole number. */
export const unitOf = (minutes: number): keyof typeof units =>
  minutes <= 0 ? "min" : minutes % units.days === 0 ? "days" : minutes % units.h === 0 ? "h" : "min";

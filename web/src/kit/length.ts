// Lengths as they are read and written. The server parses what is typed; this
// shows a length the same way as craft/measure does, by the same test cases.
export type Unit = "mm" | "in";

export const mmPerInch = 25.4;

/** nudge is the small step of a unit in mm: 1 mm or a sixteenth. */
export const nudge = (unit: Unit): number => (unit === "mm" ? 1 : mmPerInch / 16);

/** showLength writes mm in a unit, with the unit's sign. */
export function showLength(mm: number, unit: Unit): string {
  if (unit === "mm") return `${String(Math.sign(mm) * (Math.round(Math.abs(mm) * 10) / 10) + 0)} mm`;
  const step = 16;
  const sign = mm < 0 ? "-" : "";
  const exact = (Math.abs(mm) / mmPerInch) * step;
  const n = Math.round(exact);
  const rest = exact - n;
  const mark = rest > 0.25 ? "+" : rest < -0.25 ? "−" : "";
  if (exact < 0.75) {
    const thou = Math.round((Math.abs(mm) / mmPerInch) * 1000) / 1000;
    return thou === 0 ? '0"' : `${sign}${thou.toFixed(3)}"`;
  }
  const whole = Math.floor(n / step);
  let top = n % step;
  let bottom = step;
  while (top > 0 && top % 2 === 0) [top, bottom] = [top / 2, bottom / 2];
  const fraction = top > 0 ? `${top}/${bottom}` : "";
  const text = top === 0 ? String(whole) : whole > 0 ? `${whole} ${fraction}` : fraction;
  return `${sign}${text}"${mark}`;
}

/** showFine writes the setting of a machine, finer than a rule shows. */
export const showFine = (mm: number, unit: Unit): string =>
  unit === "in" ? `${(mm / mmPerInch).toFixed(3)}"` : `${mm.toFixed(1)} mm`;

/** showMinutes writes minutes the way a maker says them. */
export function showMinutes(m: number): string {
  const a = Math.abs(m);
  if (a < 10) return `${Number(m.toFixed(1))} min`;
  if (a < 90) return `${Math.round(m)} min`;
  if (a < 48 * 60) {
    const minutes = Math.round(a);
    const rest = minutes % 60;
    return `${m < 0 ? "-" : ""}${Math.floor(minutes / 60)} h${rest && a < 600 ? ` ${rest} min` : ""}`;
  }
  return `${Number((m / 1440).toFixed(1))} days`;
}

const clocks = new Map<string, Intl.DateTimeFormat>(); // costly to make, and asked for at every move of a drag

/** showTime writes a moment in the workshop's zone. */
export function showTime(at: string, zone: string, withTime = true): string {
  const key = `${zone} ${withTime}`;
  let clock = clocks.get(key);
  if (!clock) {
    clock = new Intl.DateTimeFormat("en-GB", {
      timeZone: zone,
      weekday: "short",
      day: "numeric",
      month: "short",
      ...(withTime ? { hour: "2-digit", minute: "2-digit" } : {}),
    });
    clocks.set(key, clock);
  }
  return clock.format(new Date(at));
}

/** showDay writes a day of the calendar, 2031-06-20, with its year. */
export function showDay(day: string): string {
  return new Intl.DateTimeFormat("en-GB", { timeZone: "UTC", day: "numeric", month: "short", year: "numeric" }).format(
    new Date(`${day}T12:00:00Z`),
  );
}

/** showClock writes the time of day of a moment in the workshop's zone. */
export function showClock(at: string, zone: string): string {
  return new Intl.DateTimeFormat("en-GB", { timeZone: zone, hour: "2-digit", minute: "2-digit" }).format(new Date(at));
}

/** offsetOf is by how much the clocks of a zone are ahead of UTC at a moment, ms. */
function offsetOf(at: number, zone: string): number {
  const parts = new Intl.DateTimeFormat("en-US", {
    timeZone: zone,
    hourCycle: "h23",
    year: "numeric",
    month: "numeric",
    day: "numeric",
    hour: "numeric",
    minute: "numeric",
    second: "numeric",
  }).formatToParts(at);
  const of = (type: string) => Number(parts.find((p) => p.type === type)!.value);
  const shown = Date.UTC(of("year"), of("month") - 1, of("day"), of("hour"), of("minute"), of("second"));
  return shown - Math.floor(at / 1000) * 1000;
}

/** midnights lists where the days of a zone begin between two moments, also where its clocks change. */
export function midnights(from: number, to: number, zone: string): number[] {
  const day = 86_400_000;
  const out: number[] = [];
  for (let utc = Math.floor((from + offsetOf(from, zone)) / day) * day; ; utc += day) {
    let at = utc - offsetOf(utc, zone);
    at = utc - offsetOf(at, zone); // by the clock that holds then
    if (at >= to) return out;
    if (at >= from) out.push(at);
  }
}

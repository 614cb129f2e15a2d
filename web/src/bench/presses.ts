// What is pressed at the bench, kept on this device with its own time until the
// server has it: a signal may be missing, and a page may be opened anew meanwhile.
import { newName } from "../api/asking";
import { say, type BenchBoard, type MishapReport, type Operation } from "../api/client";
import { mayMend } from "../kit/document/trying";

export type Event = "start" | "pause" | "finish" | "undo" | "note";

/** Anywhere is what may be written down at every step. */
export type Anywhere = "words" | "picture" | "thickness" | "mass" | "moisture" | "mishap";

/** Note is what is written down at a step: what the scale shows, a leak, a look. */
export interface Note {
  what:
    | "tare"
    | "resin"
    | "hardener"
    | "pigment"
    | "enough"
    | "mix"
    | "poured"
    | "heat"
    | "top-up"
    | "look"
    | "leak"
    | "used"
    | "holes"
    | "scratch"
    | "face"
    | "colour"
    | "thick"
    | "dry"
    | "full"
    | "grams"
    | "back"
    | Anywhere;
  value: number;
  /** The maker's own. */
  words?: string;
  /** A small JPEG, in base64. */
  picture?: string;
  shown?: number;
  place?: { x: number; y: number };
  /** With a mishap: what is gone. */
  mishap?: MishapReport;
}

/** Press is one event of a step, as it was pressed. */
export interface Press {
  /** Under which it is stored once, however often it is sent. */
  name: string;
  /** Id of the board, or of the panel. */
  board: string;
  panel?: boolean;
  step: string;
  /** Of the step, for the eye. */
  title: string;
  event: Event;
  minutes: number;
  at: string;
  /** It was finished so many minutes before. */
  ago?: number;
  /** With the event of that name. */
  note?: Note;
  /** Of one operation of a run: on which of its boards at once. */
  run?: { id: string; steps: { board: string; step: string }[] };
}

/** touches tells whether a press is of a step of a board. */
const touches = (p: Press, board: string, step: string): boolean =>
  p.run ? p.run.steps.some((s) => s.board === board && s.step === step) : p.board === board && p.step === step;

/** Sent is a press that the server has, with the line of its log that it wrote: an answer that knows the log so far
 * tells of it. */
interface Sent {
  press: Press;
  line: number;
}

/** Where presses are kept; localStorage fits. */
export type Shelf = Pick<Storage, "getItem" | "setItem">;

const none: readonly Press[] = [];

/** How many that were sent are remembered: an evening's, and more. */
const mostSent = 300;

/** read is what lies on the shelf; nothing where it cannot be read. */
function read<T>(shelf: Shelf, key: string): T[] {
  try {
    const kept: unknown = JSON.parse(shelf.getItem(key) ?? "[]");
    return Array.isArray(kept) ? (kept as T[]) : [];
  } catch {
    return [];
  }
}

/** Presses are sent one after another, in the order in which they were pressed. */
export class Presses {
  #waiting: Press[];
  /** Sent, and perhaps not in what is shown yet: an answer may be older. */
  #sent: Sent[];
  #refused: { press: Press; why: string }[] = [];
  #sending = false;
  #changes = 0;
  #fresh: Press | null = null;
  /** The server was away when it was last tried. */
  #stuck: boolean;
  #timer: ReturnType<typeof setTimeout> | undefined;
  readonly #listeners = new Set<() => void>();

  constructor(
    readonly shelf: Shelf,
    readonly key: string,
    /** Sends one, and tells its line in the log; what could not be sent at once is late, and goes by its own time. */
    public send: (press: Press, late: boolean) => Promise<number>,
    /** Called when some were sent: what is shown is asked for anew. What is pressed meanwhile is sent all the same. */
    readonly sent: () => Promise<unknown> = () => Promise.resolve(),
    readonly retryAfter = 2500,
  ) {
    this.#waiting = read(shelf, key);
    this.#sent = read(shelf, `${key}-sent`);
    this.#stuck = this.#waiting.length > 0;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** What could not be sent yet, the oldest first; what is just being sent does not count. */
  readonly waiting = (): readonly Press[] => (this.#stuck ? this.#waiting : none);

  /** untold is what an answer that knows the log up to a line does not tell: sent since, waiting, or going. */
  readonly untold = (line: number): readonly Press[] => [
    ...this.#sent.filter((s) => s.line > line).map((s) => s.press),
    ...this.#waiting,
  ];

  /** changes counts what was pressed and sent, for who draws it. */
  readonly changes = (): number => this.#changes;

  /** count is how many presses the server does not have. */
  readonly count = (): number => this.#waiting.length;

  /** What the server would not take, with its reason. */
  readonly refused = (): readonly { press: Press; why: string }[] => this.#refused;

  /** add keeps a press and sends it; the answer comes when nothing waits, or has to. */
  async add(press: Omit<Press, "name">): Promise<void> {
    this.#refused = this.#refused.filter((r) => r.press.board !== press.board);
    const before = Number(this.shelf.getItem(`${this.key}-last`) ?? 0);
    const at = Math.max(new Date(press.at).getTime(), before + 1); // no press comes before the one before it
    this.shelf.setItem(`${this.key}-last`, String(at));
    const named = { ...press, at: new Date(at).toISOString(), name: newName() };
    this.#fresh = named;
    try {
      this.#keep((waiting) => [...waiting, named]);
    } catch {
      this.#keep((waiting) => waiting.filter((p) => p.name !== named.name));
      this.#refused = [...this.#refused, { press: named, why: "this device has no room to keep it" }];
      for (const tell of this.#listeners) tell();
      return;
    }
    await this.flush();
  }

  /** flush sends what waits, and tries again as long as that may help. */
  async flush(): Promise<void> {
    if (this.#sending) return;
    this.#sending = true;
    clearTimeout(this.#timer);
    let some = false;
    while (this.#waiting.length > 0) {
      const [press] = this.#waiting;
      try {
        const line = await this.send(press, press !== this.#fresh);
        some = true;
        // Pictures need no second place: what is shown of a press is that it was made.
        const slim = press.note?.picture ? { ...press, note: { ...press.note, picture: "" } } : press;
        this.#sent = [...this.#sent, { press: slim, line }].slice(-mostSent);
        try {
          this.shelf.setItem(`${this.key}-sent`, JSON.stringify(this.#sent));
        } catch {
          // A full device forgets what the server has.
        }
      } catch (error) {
        if (mayMend(error)) {
          this.#fresh = null;
          this.#stuck = true;
          this.#keep((waiting) => waiting);
          this.#timer = setTimeout(() => void this.flush(), this.retryAfter);
          break;
        }
        this.#refused = [...this.#refused, { press, why: say(error) }];
      }
      this.#stuck &&= this.#waiting.length > 1;
      this.#keep((waiting) => waiting.filter((p) => p.name !== press.name));
    }
    this.#sending = false;
    if (some) await this.sent();
  }

  /** keep changes what waits, as it lies on the shelf: another window may have put something there too. */
  #keep(change: (waiting: Press[]) => Press[]): void {
    this.#waiting = change(read(this.shelf, this.key));
    this.shelf.setItem(this.key, JSON.stringify(this.#waiting));
    this.#changes++;
    for (const tell of this.#listeners) tell();
  }
}

const states: Partial<Record<Event, BenchBoard["course"]["steps"][number]["state"]>> = {
  start: "running",
  pause: "paused",
  finish: "done",
  undo: "to do",
};

type Step = BenchBoard["course"]["steps"][number];

/** spentOf is how many minutes a step has taken by a moment; one that runs tells those of when it was read. */
export function spentOf(step: Pick<Step, "state" | "spent" | "startedAt">, read: number, at: number): number {
  if (step.state !== "running") return step.spent;
  const since = step.startedAt ? new Date(step.startedAt).getTime() : read; // it may have been begun since
  return Math.max(0, step.spent + (at - Math.max(read, since)) / 60000);
}

/** pressed is a step after a press, as an answer of a moment told of it. */
function pressed(step: Step, { event, at: pressed, minutes, ago = 0 }: Press, read: number): Step {
  const begun = step.startedAt ? Date.parse(step.startedAt) + 1 : 0; // no step ends before it was begun
  const when = Math.max(begun, Date.parse(pressed) - ago * 60000);
  const at = new Date(when).toISOString();
  const spent = { finish: minutes, undo: 0 }[event as string] ?? spentOf(step, read, when);
  const ran = event === "start" ? Math.max(0, read - when) / 60000 : 0; // it was begun before it was read
  const next = { ...step, state: states[event] ?? step.state, spent: spent + ran, startedAt: undefined };
  if (event === "start") return { ...next, startedAt: at };
  if (event !== "finish") return next;
  const after = (minutes: number) => new Date(when + minutes * 60000).toISOString();
  const over = after(step.wait); // or a moment before which it is not over, whenever it began
  const waitUntil = step.until && Date.parse(step.until) > Date.parse(over) ? step.until : over;
  return { ...next, doneAt: at, waitUntil, restUntil: step.rest > 0 ? after(step.rest) : undefined };
}

/** withPresses shows boards, as they were read at a moment, as they will stand when the server has what waits. */
export function withPresses(boards: BenchBoard[], waiting: readonly Press[], read: number): BenchBoard[] {
  return boards.map((board) => {
    const id = board.course.subject.id;
    if (!waiting.some((p) => p.board === id || p.run?.steps.some((s) => s.board === id))) return board;
    const steps = board.course.steps.map((step) => {
      const mine = waiting.filter((p) => touches(p, id, step.key) && p.event !== "note");
      return mine.reduce((now, press) => pressed(now, press, read), step);
    });
    return { ...board, course: { ...board.course, steps } };
  });
}

/** cellStates are the states of a cell of the matrix that presses lead to. */
const cellStates: Partial<Record<Event, Operation["cells"][number]["state"]>> = {
  start: "in hand",
  pause: "in hand",
  finish: "done",
  undo: "ready",
};

/** operationsWith shows the operations of a run as they will stand when the server has what waits. */
export function operationsWith(operations: Operation[], waiting: readonly Press[]): Operation[] {
  if (waiting.length === 0) return operations;
  return operations.map((o) => ({
    ...o,
    cells: o.cells.map((cell) => {
      const last = waiting.filter((p) => touches(p, cell.subject.id, cell.step) && p.event !== "note").at(-1);
      return last ? { ...cell, state: cellStates[last.event] ?? cell.state } : cell;
    }),
  }));
}

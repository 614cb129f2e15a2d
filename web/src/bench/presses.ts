// What is pressed at the bench, kept on this device with its own time until the
// server has it: a signal may be missing, and a page may be opened anew meanwhile.
import { newName } from "../api/asking";
import { say, type BenchBoard } from "../api/client";
import { mayMend } from "../kit/document/trying";

export type Event = "start" | "pause" | "finish" | "undo" | "note";

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
    | "back";
  value: number;
  shown?: number;
  place?: { x: number; y: number };
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
  /** With the event of that name. */
  note?: Note;
}

/** Where presses are kept; localStorage fits. */
export type Shelf = Pick<Storage, "getItem" | "setItem">;

const none: readonly Press[] = [];

/** Presses are sent one after another, in the order in which they were pressed. */
export class Presses {
  #waiting: Press[];
  #refused: { press: Press; why: string }[] = [];
  #sending = false;
  #fresh: Press | null = null;
  /** The server was away when it was last tried. */
  #stuck: boolean;
  #timer: ReturnType<typeof setTimeout> | undefined;
  readonly #listeners = new Set<() => void>();

  constructor(
    readonly shelf: Shelf,
    readonly key: string,
    /** Sends one; what could not be sent at once is late, and goes by its own time. */
    public send: (press: Press, late: boolean) => Promise<unknown>,
    readonly retryAfter = 2500,
  ) {
    this.#waiting = JSON.parse(shelf.getItem(key) ?? "[]") as Press[];
    this.#stuck = this.#waiting.length > 0;
  }

  readonly subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };

  /** What could not be sent yet, the oldest first; what is just being sent does not count. */
  readonly waiting = (): readonly Press[] => (this.#stuck ? this.#waiting : none);

  /** What the server would not take, with its reason. */
  readonly refused = (): readonly { press: Press; why: string }[] => this.#refused;

  /** add keeps a press and sends it; the answer comes when nothing waits, or has to. */
  async add(press: Omit<Press, "name">): Promise<void> {
    this.#refused = this.#refused.filter((r) => r.press.board !== press.board);
    const named = { ...press, name: newName() };
    this.#fresh = named;
    this.#keep([...this.#waiting, named]);
    await this.flush();
  }

  /** flush sends what waits, and tries again as long as that may help. */
  async flush(): Promise<void> {
    if (this.#sending) return;
    this.#sending = true;
    clearTimeout(this.#timer);
    while (this.#waiting.length > 0) {
      const [press] = this.#waiting;
      try {
        await this.send(press, press !== this.#fresh);
      } catch (error) {
        if (mayMend(error)) {
          this.#fresh = null;
          this.#stuck = true;
          this.#keep(this.#waiting);
          this.#timer = setTimeout(() => void this.flush(), this.retryAfter);
          break;
        }
        this.#refused = [...this.#refused, { press, why: say(error) }];
      }
      this.#stuck &&= this.#waiting.length > 1;
      this.#keep(this.#waiting.filter((p) => p !== press));
    }
    this.#sending = false;
  }

  #keep(waiting: Press[]): void {
    this.#waiting = waiting;
    this.shelf.setItem(this.key, JSON.stringify(waiting));
    for (const tell of this.#listeners) tell();
  }
}

const states: Partial<Record<Event, BenchBoard["course"]["steps"][number]["state"]>> = {
  start: "running",
  pause: "paused",
  finish: "done",
  undo: "to do",
};

/** withPresses shows boards as they will stand when the server has what waits. */
export function withPresses(boards: BenchBoard[], waiting: readonly Press[]): BenchBoard[] {
  return boards.map((board) => {
    const mine = waiting.filter((p) => p.board === board.course.subject.id);
    if (mine.length === 0) return board;
    const steps = board.course.steps.map((step) => {
      const last = mine.filter((p) => p.step === step.key && p.event !== "note").at(-1);
      if (!last) return step;
      const spent = last.event === "finish" ? last.minutes : step.spent;
      return { ...step, state: states[last.event] ?? step.state, spent };
    });
    return { ...board, course: { ...board.course, steps } };
  });
}

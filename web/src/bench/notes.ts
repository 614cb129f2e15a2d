// What is written down on this device and the server does not have yet.
import type { Note, Press } from "./presses";

/** notesKept are the notes on a step that are kept here, less those that were taken back. */
export function notesKept(kept: readonly Pick<Press, "step" | "note">[], step: string): Note[] {
  const out: Note[] = [];
  for (const { step: of, note } of kept) {
    if (of !== step || !note) continue;
    if (note.what === "back") out.pop();
    else out.push(note);
  }
  return out;
}

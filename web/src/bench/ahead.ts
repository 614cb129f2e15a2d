// What comes next at a pour while the server is away: the order stands, the grams are those of its plan.
import type { Pouring } from "../api/client";
import type { Note, Press } from "./presses";

type What = Note["what"];

/** ahead is what is written down next, after what is kept on the device already. */
export function ahead(of: Pick<Pouring, "phase" | "ask" | "wanted">, kept: readonly Pick<Press, "note">[]): What {
  const order: What[] = [
    "resin",
    "hardener",
    ...(of.wanted.pigmentG > 0 ? (["pigment"] as What[]) : []),
    "mix",
    "poured",
  ];
  const now: What = of.phase === "pour" ? "poured" : of.phase === "mix" ? "mix" : (of.ask?.what ?? "resin");
  const done = kept.reduce((n, p) => n + (p.note?.what === "back" ? -1 : order.includes(p.note!.what) ? 1 : 0), 0);
  return order[(order.indexOf(now) + Math.max(0, done)) % order.length];
}

/** wantedOf is how much of a part the plan of a batch asks for, g. */
export const wantedOf = (of: Pick<Pouring, "wanted">, what: What): number =>
  what === "hardener" ? of.wanted.hardenerG : what === "pigment" ? of.wanted.pigmentG : of.wanted.resinG;

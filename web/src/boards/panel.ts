// What the panel of a stage is given.
import type { ReactNode } from "react";
import type { Board, Reckoned, Sheet, Wood } from "../api/client";

/** thicknesses are the figures of the ladder from rough to sanded. */
export const thicknesses = new Set([
  "flatten.rough",
  "flatten.flat",
  "flatten.planed",
  "flatten.filled",
  "flatten.final",
]);

/** drawnInPanel are the figures that a panel draws itself; the rest stand under the wood. */
export const drawnInPanel = new Set([...thicknesses, "handle.off"]);

export type DeepPartial<T> = T extends object ? { [K in keyof T]?: DeepPartial<T[K]> } : T;

export interface PanelProps {
  board: Board;
  r: Reckoned;
  wood: Wood;
  sheet: Sheet;
  /** Of the board as it is stored. */
  stored: number;
  set: (change: DeepPartial<Board>, kind?: string) => void;
  replace: (ladder: number[]) => void;
  applyPatch: (patch: unknown) => void;
  change: (next: (b: Board) => Board, kind?: string) => void;
}

export type Panel = (props: PanelProps) => ReactNode;

import type { Slab } from "../api/client";

interface Size {
  name: string;
  species: string;
  stock: "slab" | "plank" | "sheet";
  length: number;
  width: number;
  thickness: number;
  reclaimed: boolean;
}

/** newPiece is a piece of a size to begin with; its maker measures it next. */
export function newPiece({ name, species, stock, length, width, thickness, reclaimed }: Size): Slab {
  const half = width / 2;
  const at = (x: number, by = 0) => ({ x, left: half + by, right: -half - by });
  const live = stock === "slab";
  return {
    name,
    species,
    stock,
    length,
    show: live ? [at(0, -5), at(length / 2), at(length, -5)] : [at(0), at(length)],
    liveLeft: live,
    liveRight: live,
    naturalEnds: false,
    uneven: false,
    readings: [{ x: length / 2, y: 0, thickness }],
    hollow: 0,
    wind: 0,
    unshimmed: false,
    moisture: [],
    ringAngle: 0,
    priceCents: 0,
    reclaimed,
    flaws: [],
    notes: "",
  };
}

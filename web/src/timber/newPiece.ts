import type { Slab } from "../api/client";

/** newPiece is a piece to begin with; its maker measures it next. */
export const newPiece = (): Slab => ({
  name: "New piece",
  species: "London plane",
  length: 600,
  show: [
    { x: 0, left: 100, right: -100 },
    { x: 300, left: 105, right: -105 },
    { x: 600, left: 100, right: -100 },
  ],
  liveLeft: true,
  liveRight: true,
  naturalEnds: false,
  uneven: false,
  readings: [{ x: 300, y: 0, thickness: 30 }],
  hollow: 0,
  wind: 0,
  unshimmed: false,
  moisture: [],
  ringAngle: 0,
  priceCents: 0,
  reclaimed: false,
  flaws: [],
  notes: "",
});

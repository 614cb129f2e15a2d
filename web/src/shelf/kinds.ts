import type { Product } from "../api/client";

/** kinds are those of supplies. */
export const kinds: Product["kind"][] = [
  "resin",
  "hardener",
  "filler",
  "abrasive",
  "finish",
  "hardware",
  "glue",
  "wood",
  "packing",
];

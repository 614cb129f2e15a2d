// A small picture of each kind of mishap: a board seen from above or from its side, and what has happened to it.

const board = "M3 8h23v12H3z";
const side = "M2 12h26v5H2z";

/** pictures are two paths by the key of a kind: the board, and what went wrong on it. */
export const pictures: Record<string, [wood: string, wrong: string]> = {
  deeper: [board, "M3 13l5 2 4-2 5 3 3-1"],
  edge: ["M3 20V9c4-2 6 1 9-1s7 2 14 0v12z", "M10 6c2 3 6 3 9 0M12 8l1 2M16 8l-1 2"],
  snipe: ["M2 11h20l6 3v4H2z", "M21 9l7 3"],
  tearout: [board, "M10 12l4 2-3 1 5 2-4 1M17 11l3 2-2 1 3 2"],
  joint: ["M3 8h23v5H3zM3 16h23v5H3z", "M3 14.5h23"],
  split: ["M3 8h23v12H3zM3 14h23", "M8 17l5 1 3-1 6 1"],
  leak: ["M2 10h10v5H2zM18 10h10v5H18z", "M12 10h6M15 15v4M15 21a1 1 0 1 0 .1 0"],
  short: ["M2 9h8l3 8h4l3-8h8v9H2z", "M12 14h6"],
  bubbles: ["M2 10h26v8H2z", "M8 14a1 1 0 1 0 .1 0M13 13a1.5 1.5 0 1 0 .1 0M19 15a1 1 0 1 0 .1 0M23 13a1 1 0 1 0 .1 0"],
  hot: ["M6 12h18l-2 9H8z", "M11 9c-2-2 2-3 0-5M15 9c-2-2 2-3 0-5M19 9c-2-2 2-3 0-5"],
  soft: ["M2 15h26v5H2z", "M15 4v9M12 13c2 3 4 3 6 0"],
  colour: ["M2 10h26v8H2z", "M11 14h8M15 11v6"],
  deep: ["M3 20V9h9c1 0 1 5 3 5s2-5 3-5h8v11z", "M10 5l5 7 5-7"],
  web: ["M3 8h17v12H3z", "M16 14a3 3 0 1 0 6 0M24 9l3 1M25 14h3M24 19l3-1"],
  end: ["M3 8h18l-3 4 4 3-2 5H3z", "M24 8l3 3-2 4 2 5"],
  offcentre: [board, "M20 11.5a3 3 0 1 0 .1 0M3 14h10M20 5v3"],
  grabbed: ["M3 20V9h8l2 3 3-1 2 4 3-6h5v11z", "M17 3a4 4 0 1 1-3 4M14 3v4h4"],
  burn: [board, "M9 20c0-4 4-4 3-8 3 2 4 5 3 8M17 20c0-2 2-3 2-5 2 2 2 4 1 5"],
  thin: ["M2 13h26v3H2z", "M15 4v8M12 9l3 3 3-3M15 25v-8M12 20l3-3 3 3"],
  cupped: ["M2 12c8 6 18 6 26 0v4c-8 6-18 6-26 0z", "M2 22h26"],
  dropped: ["M6 6l18 5-2 7-18-5z", "M4 24h22M8 21l-2-2M14 22v-3M20 21l2-2"],
  furry: [side, "M4 12l1-4M8 12l1-4M12 12l1-4M16 12l1-4M20 12l1-4M24 12l1-4"],
  scratch: [board, "M7 11l12 3M9 13l12 3M8 16l9 2"],
  blotch: [board, "M8 14c0-3 4-3 5-1s5-1 5 2-4 3-6 2-4 0-4-3z"],
  sweat: [side, "M7 8a1.5 1.5 0 1 0 .1 0M14 6a1.5 1.5 0 1 0 .1 0M21 8a1.5 1.5 0 1 0 .1 0"],
  screw: ["M2 16h26v6H2z", "M11 5h8M15 5v6M13 8l4-1M15 14v5M13 16l4-1"],
  cord: [board, "M22 14a2 2 0 1 0 .1 0M22 12c0-4 4-4 4-8M20 12c0-3-3-3-3-6"],
};

// What the server answered last is kept on this device, for when it is away.

/** Where it is kept. */
export const keptIn = "answers";

const kept = [
  "me",
  "shop",
  "tables",
  "bench",
  "plan(/helps)?",
  "log",
  "panels",
  "(boards|pieces|runs|trials)(/[^/]+)?", // lists, and each as it was last seen
  "boards/[^/]+/rescue", // what may go wrong on it
];

/** The addresses of what is kept. */
export const keptAnswers = new RegExp(`^/api/(${kept.join("|")})$`);

/** The header of an answer that was kept. */
export const keptMark = "X-Kept";

// What the server answered last is kept on this device, for when it is away.

/** Where it is kept. */
export const keptIn = "answers";

/** What is kept: what is in hand, the plan, and each board, run and piece as it was last seen; what may
 * go wrong on a board. */
export const keptAnswers =
  /^\/api\/(me|shop|tables|bench|plan(\/helps)?|log|panels|(boards|pieces|runs|trials)(\/[^/]+)?|boards\/[^/]+\/rescue)$/;

/** The header of an answer that was kept. */
export const keptMark = "X-Kept";

import { Refused, say } from "../../api/client";

/** mayMend tells answers that another try may mend from refusals. */
export const mayMend = (error: unknown): boolean =>
  !(error instanceof Refused) || error.status >= 500 || error.status === 401;

/** whyAway says why the server did not take what was sent. */
export const whyAway = (error: unknown): string =>
  error instanceof Refused && error.status === 401
    ? "You are signed out. Sign in in another window; what you typed is kept here."
    : say(error);

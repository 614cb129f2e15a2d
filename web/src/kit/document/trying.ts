import { Refused, say } from "../../api/client";

/** mayMend tells answers that another try may mend from refusals. */
export const mayMend = (error: unknown): boolean =>
  !(error instanceof Refused) || error.status >= 500 || error.status === 401;

/** whyAway says why the server did not take what was sent. */
export const whyAway = (error: unknown): string =>
  error instanceof Refused && error.status === 401
    ? "You are signed out. Sign in in another window; what you typed is kept here."
    : say(error);

/** whenBack asks, and asks again as long as the server is away and one still waits. */
export async function whenBack<T>(ask: () => Promise<T>, waits: () => boolean, retryAfter = 2000): Promise<T> {
  for (;;) {
    try {
      return await ask();
    } catch (error) {
      if (!mayMend(error) || !waits()) throw error;
    }
    await new Promise((again) => setTimeout(again, retryAfter));
  }
}

// Lengths that the server is still reading: what is pressed next waits for them.

const pending = new Set<Promise<unknown>>();

/** reading notes a length that is being read. */
export function reading(read: Promise<unknown>): void {
  pending.add(read);
  void read.finally(() => pending.delete(read));
}

/** allRead waits until every length that was typed has been read. */
export async function allRead(): Promise<void> {
  while (pending.size > 0) await Promise.allSettled(pending);
}

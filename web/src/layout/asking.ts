/** What a press on the wood is waited for. */
export interface Asking {
  what: "" | "swap" | "spot";
}

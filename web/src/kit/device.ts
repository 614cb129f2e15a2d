// What belongs to this device and this session rather than to the workshop.
import { useQueryClient } from "@tanstack/react-query";
import { useCallback, useSyncExternalStore } from "react";
import { forget } from "../api/asking";
import { api } from "../api/client";

const key = "idletimber-evening";
const listeners = new Set<() => void>();
const isEvening = () => localStorage.getItem(key) === "yes";

function setEvening(v: boolean): void {
  localStorage.setItem(key, v ? "yes" : "no");
  paint();
  listeners.forEach((tell) => tell());
}

function paint(): void {
  document.documentElement.dataset.bsTheme = isEvening() ? "dark" : "light";
}
paint();

/** useEvening is the evening theme, on or off, and its switch. */
export function useEvening(): [boolean, (v: boolean) => void] {
  const evening = useSyncExternalStore((tell) => {
    listeners.add(tell);
    return () => listeners.delete(tell);
  }, isEvening);
  return [evening, setEvening];
}

/** useSignOut ends the session and goes to the door. */
export function useSignOut(): () => void {
  const client = useQueryClient();
  return useCallback(() => {
    void api
      .POST("/api/sign-out")
      .then(forget, forget)
      .finally(() => {
        client.clear();
        window.location.assign("/");
      });
  }, [client]);
}

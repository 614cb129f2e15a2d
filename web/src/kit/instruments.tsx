// The workshop's instruments: what they send, and the simulated ones, which are pressed on the page.
import { useMutation, useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type MeterReading } from "../api/client";
import { hear } from "./news";
import { Wrong } from "./parts";

/** useInstruments are those of a kind; undefined until they are known. */
export function useInstruments(kind: MeterReading["kind"]) {
  const all = useQuery({ queryKey: ["instruments"], queryFn: () => unwrap(api.GET("/api/instruments")) });
  return all.data?.filter((i) => i.kind === kind);
}

/** useReadings listens to the workshop's instruments while the page is open. */
export function useReadings(onReading: (r: MeterReading) => void): boolean {
  const [listening, setListening] = useState(false);
  useEffect(() => hear({ reading: onReading, listening: setListening }), [onReading]);
  return listening;
}

/** shown writes a reading. */
export function shown(r: MeterReading, value: (v: number, of: string) => string): string {
  if (r.kind === "scale") return value(r.grams, "g");
  if (r.kind === "room sensor") return `${value(r.temperature, "°C")}, ${r.humidity.toFixed(0)} %`;
  return r.below ? "below its range" : `${r.percent.toFixed(1)} %`;
}

interface SimulatedProps {
  of: { id: string; name: string; simulated: boolean }[];
  /** What it is pressed into, or what lies on it. */
  at: { piece?: string; board?: string; step?: string };
  listening: boolean;
  say: (name: string) => string;
}

/** Simulated are the buttons of the simulated instruments, and what went wrong with them. */
export function Simulated({ of, at, listening, say }: SimulatedProps) {
  const press = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/instruments/{id}/press", { params: { path: { id } }, body: at })),
  });
  return (
    <>
      {of
        .filter((i) => i.simulated)
        .map((i) => (
          <Button
            key={i.id}
            size="sm"
            variant="outline-primary"
            disabled={press.isPending || !listening}
            onClick={() => press.mutate(i.id)}
          >
            {say(i.name)}
          </Button>
        ))}
      <Wrong error={press.error} />
    </>
  );
}

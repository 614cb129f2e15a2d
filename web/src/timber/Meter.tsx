// Readings as the instruments push them, live, to be kept in the log of a piece.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, say, unwrap, type MeterReading } from "../api/client";
import { useWorkshop } from "../kit/workshop";

/** useReadings listens to the workshop's instruments while the page is open. */
export function useReadings(onReading: (r: MeterReading) => void): boolean {
  const [listening, setListening] = useState(false);
  useEffect(() => {
    const source = new EventSource("/api/readings/stream");
    source.addEventListener("open", () => setListening(true));
    source.addEventListener("error", () => setListening(false)); // it opens itself again
    source.addEventListener("reading", (e: MessageEvent<string>) => onReading(JSON.parse(e.data) as MeterReading));
    return () => source.close();
  }, [onReading]);
  return listening;
}

/** shown writes a reading. */
export function shown(r: MeterReading, value: (v: number, of: string) => string): string {
  if (r.kind === "scale") return value(r.grams, "g");
  if (r.kind === "room sensor") return `${value(r.temperature, "°C")}, ${r.humidity.toFixed(0)} %`;
  return r.below ? "below its range" : `${r.percent.toFixed(1)} %`;
}

export function Meter({ piece, onLog }: { piece: string; onLog: (r: MeterReading) => void }) {
  const { time, value } = useWorkshop();
  const client = useQueryClient();
  const instruments = useQuery({ queryKey: ["instruments"], queryFn: () => unwrap(api.GET("/api/instruments")) });
  const [last, setLast] = useState<MeterReading | null>(null);
  const take = useState(() => (r: MeterReading) => {
    void client.invalidateQueries({ queryKey: ["instruments"] });
    if (r.kind === "moisture meter") setLast(r);
  })[0];
  const listening = useReadings(take);
  const press = useMutation({
    mutationFn: (id: string) =>
      unwrap(api.POST("/api/instruments/{id}/press", { params: { path: { id } }, body: { piece } })),
  });
  const meters = (instruments.data ?? []).filter((i) => i.kind === "moisture meter");
  if (instruments.data && meters.length === 0)
    return (
      <p className="facts">
        A meter that sends its readings is added at <Link to="/shop">Shop</Link>.
      </p>
    );
  return (
    <div className="meter" data-listening={listening}>
      {meters
        .filter((m) => m.simulated)
        .map((m) => (
          <Button
            key={m.id}
            size="sm"
            variant="outline-primary"
            disabled={press.isPending || !listening}
            onClick={() => press.mutate(m.id)}
          >
            Press {m.name} into it
          </Button>
        ))}
      {press.error && <p className="wrong">{say(press.error)}</p>}
      {last ? (
        <p className="meter-shows" role="status">
          {last.name} shows <strong>{shown(last, value)}</strong> <span className="facts">{time(last.at)}</span>
          <Button
            size="sm"
            onClick={() => {
              onLog(last);
              setLast(null);
            }}
          >
            Keep it
          </Button>
        </p>
      ) : (
        <p className="facts">
          {listening
            ? "Listening: a reading appears here when the meter is pressed."
            : "Not connected to the instruments."}
        </p>
      )}
    </div>
  );
}

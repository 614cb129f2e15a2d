// Readings as the instruments push them, live, to be kept in the log of a piece.
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import type { MeterReading } from "../api/client";
import { shown, Simulated, useInstruments, useReadings } from "../kit/instruments";
import { useWorkshop } from "../kit/workshop";

export function Meter({ piece, onLog }: { piece: string; onLog: (r: MeterReading) => void }) {
  const { time, value } = useWorkshop();
  const client = useQueryClient();
  const meters = useInstruments("moisture meter");
  const [last, setLast] = useState<MeterReading | null>(null);
  const take = useState(() => (r: MeterReading) => {
    void client.invalidateQueries({ queryKey: ["instruments"] });
    if (r.kind === "moisture meter") setLast(r);
  })[0];
  const listening = useReadings(take);
  if (meters?.length === 0)
    return (
      <p className="facts">
        A meter that sends its readings is added at <Link to="/shop">Shop</Link>.
      </p>
    );
  return (
    <div className="meter" data-listening={listening}>
      <Simulated of={meters ?? []} at={{ piece }} listening={listening} say={(name) => `Press ${name} into it`} />
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

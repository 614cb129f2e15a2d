// The instruments that push readings: added, removed, and what they show now.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import Button from "react-bootstrap/Button";
import { api, say, unwrap, type Instrument, type Shop } from "../api/client";
import { Choice, RemoveButton, Row, TextField, Tick } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { shown, useReadings } from "../kit/instruments";

type Kind = Instrument["kind"];

export function Instruments({ onAir }: { onAir: (air: Shop["air"]) => void }) {
  const { time, value } = useWorkshop();
  const client = useQueryClient();
  const all = useQuery({ queryKey: ["instruments"], queryFn: () => unwrap(api.GET("/api/instruments")) });
  const again = useCallback(() => void client.invalidateQueries({ queryKey: ["instruments"] }), [client]);
  const listening = useReadings(again);
  const [name, setName] = useState("");
  const [kind, setKind] = useState<Kind>("moisture meter");
  const [simulated, setSimulated] = useState(false);
  const [key, setKey] = useState("");
  const add = useMutation({
    mutationFn: () => unwrap(api.POST("/api/instruments", { body: { name: name.trim(), kind, simulated } })),
    onSuccess: (made) => {
      setKey(made.key ?? "");
      setName("");
      again();
    },
  });
  const remove = useMutation({
    mutationFn: (id: string) => unwrap(api.DELETE("/api/instruments/{id}", { params: { path: { id } } })),
    onSuccess: again,
  });
  const press = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/instruments/{id}/press", { params: { path: { id } }, body: {} })),
  });
  const wrong = add.error ?? remove.error ?? press.error;
  return (
    <div className="instruments" data-listening={listening}>
      <h3>Instruments that send their readings</h3>
      <ul>
        {(all.data ?? []).map((i) => (
          <li key={i.id}>
            <span className="flex-grow-1">
              {i.name}
              <span className="facts">
                {i.kind}
                {i.simulated && ", simulated"}
                {i.last && `: ${shown(i.last, value)}, ${time(i.last.at)}`}
              </span>
            </span>
            {i.kind !== "moisture meter" && i.simulated && (
              <Button size="sm" variant="outline-primary" onClick={() => press.mutate(i.id)}>
                Read it
              </Button>
            )}
            {i.kind === "room sensor" && i.last && (
              <Button
                size="sm"
                variant="outline-primary"
                onClick={() => onAir({ temperature: i.last!.temperature, humidity: i.last!.humidity })}
              >
                It is the shop&apos;s air
              </Button>
            )}
            <RemoveButton what={i.name} onClick={() => remove.mutate(i.id)} />
          </li>
        ))}
      </ul>
      <TextField label="Name of the instrument" value={name} onChange={setName} />
      <Row>
        <Choice
          label="What it is"
          value={kind}
          options={["moisture meter", "room sensor", "scale"]}
          onChange={setKind}
        />
        <Button
          size="sm"
          variant="outline-primary"
          className="align-self-end mb-1"
          disabled={name.trim() === "" || add.isPending}
          onClick={() => add.mutate()}
        >
          Add it
        </Button>
      </Row>
      <Tick label="Simulated, to try with" value={simulated} onChange={setSimulated} />
      {key && (
        <p className="device-key" role="status">
          Its key, shown once: <code>{key}</code>
          <span className="facts">
            It sends one reading a request: POST /api/readings with Authorization: Bearer and this key.
          </span>
        </p>
      )}
      {wrong && <p className="wrong">{say(wrong)}</p>}
    </div>
  );
}

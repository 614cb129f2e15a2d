// How a machine is set for an operation of a run: one of the set-ups that are kept by name, or a new one.
import { useId, useState } from "react";
import Button from "react-bootstrap/Button";
import type { Operation, Setup as SetupDoc } from "../api/client";
import { SetAs } from "../bench/SetAs";
import { Choice, LengthField, RemoveButton, Row, TextField } from "../kit/fields";
import { named, useKeeping } from "../kit/keeping";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";

interface Props {
  of: Operation;
  name: string;
  onName: (name: string) => void;
}

const lengths = { stop: "Stop", fence: "Fence", spacer: "Spacer", lift: "Lift" } as const;

export function Setup({ of: o, name, onName }: Props) {
  const { shop } = useWorkshop();
  const [fresh, setFresh] = useState<SetupDoc | null>(null);
  const keeping = useKeeping(() => {
    if (fresh) onName(fresh.name);
    setFresh(null);
  });
  const [wrong, setWrong] = useState<unknown>(null);
  const keep = useTyped(async () => {
    setWrong(null);
    if (fresh)
      await keeping.mutateAsync((now) => ({ setups: named(now.setups, { ...fresh, name: fresh.name.trim() }) }));
  });
  const id = useId();
  const kept = (shop.setups ?? []).filter((s) => s.kind === o.kind);
  const chosen = kept.find((s) => s.name === name);
  const set = (some: Partial<SetupDoc>) => setFresh((now) => now && { ...now, ...some });
  return (
    <details className="setup" open={Boolean(chosen)}>
      <summary>Set-up{chosen && `: ${chosen.name}`}</summary>
      {kept.length > 0 && (
        <Choice
          label="Kept set-up"
          value={chosen?.name ?? ""}
          options={[{ value: "", label: "None" }, ...kept.map((s) => ({ value: s.name, label: s.name }))]}
          onChange={onName}
        />
      )}
      {chosen && (
        <div>
          <SetAs of={chosen} />
          <RemoveButton
            what={chosen.name}
            onClick={() => {
              keeping.mutate((now) => ({ setups: (now.setups ?? []).filter((s) => s.name !== chosen.name) }));
              onName("");
            }}
          />
        </div>
      )}
      {fresh ? (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            keep().catch((error: unknown) => setWrong(error));
          }}
        >
          <Row>
            <TextField label="Name" value={fresh.name} onChange={(to) => set({ name: to })} />
            {(Object.keys(lengths) as (keyof typeof lengths)[]).map((k) => (
              <LengthField
                key={k}
                label={lengths[k]}
                of={`shop.setups.${k}`}
                mm={fresh[k] ?? 0}
                onChange={(mm) => set({ [k]: mm })}
              />
            ))}
            <Choice
              label="Stop from"
              value={fresh.end ?? ""}
              options={[
                { value: "", label: "either end" },
                { value: "butt", label: "the butt end" },
                { value: "top", label: "the top end" },
              ]}
              onChange={(end) => set({ end: end as SetupDoc["end"] })}
            />
          </Row>
          <label className="form-label" htmlFor={id}>
            Note
          </label>
          <textarea
            id={id}
            className="form-control form-control-sm"
            rows={2}
            maxLength={2000}
            value={fresh.note ?? ""}
            onChange={(e) => set({ note: e.target.value })}
          />
          <Button type="submit" size="sm" disabled={fresh.name.trim() === "" || keeping.isPending}>
            Keep it
          </Button>
          <Button size="sm" variant="link" onClick={() => setFresh(null)}>
            Not now
          </Button>
          <Wrong error={wrong ?? keeping.error} />
        </form>
      ) : (
        <Button size="sm" variant="link" onClick={() => setFresh({ name: "", kind: o.kind })}>
          Keep how it is set
        </Button>
      )}
    </details>
  );
}

// Who helps at the bench, when nobody is there, and what is on order: the plan goes by it.
import Button from "react-bootstrap/Button";
import type { Shop } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, RemoveButton, Row, TextField, Tick } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";

interface Props {
  shop: Shop;
  set: Edit<Shop>;
}

interface DayProps {
  label: string;
  value: string;
  onChange: (day: string) => void;
}

function Day({ label, value, onChange }: DayProps) {
  return (
    <input
      className="form-control form-control-sm time"
      type="date"
      aria-label={label}
      value={value}
      onChange={(e) => e.target.value && onChange(e.target.value)}
    />
  );
}

const today = () => new Date().toISOString().slice(0, 10);

/** Helpers have sessions of their own, and may be handed some kinds of work. */
export function Helpers({ shop: s, set }: Props) {
  const { tables } = useWorkshop();
  const helpers = s.helpers ?? [];
  return (
    <section>
      <h2>Who helps</h2>
      <p className="facts">Give them sessions above, and the work that you hand over: the plan shares it out.</p>
      {helpers.map((h, i) => {
        const change = (part: Partial<typeof h>) =>
          set((now) => ({ helpers: put(now.helpers ?? [], i, part) }), `helper-${i}`);
        return (
          <fieldset key={i}>
            <Row>
              <TextField
                label="Name"
                value={h.name}
                onChange={(name) =>
                  set(
                    (now) => ({
                      helpers: put(now.helpers ?? [], i, { name }),
                      sessions: now.sessions.map((x) => (x.who === h.name ? { ...x, who: name } : x)),
                    }),
                    `helper-${i}`,
                  )
                }
              />
              <RemoveButton
                what={h.name || `helper ${i + 1}`}
                onClick={() =>
                  set((now) => ({
                    helpers: cut(now.helpers ?? [], i),
                    sessions: now.sessions.filter((x) => x.who !== h.name),
                    off: (now.off ?? []).filter((o) => o.who !== h.name),
                  }))
                }
              />
            </Row>
            <details>
              <summary>{h.does.length === 0 ? "Nothing is handed over yet" : h.does.join(", ")}</summary>
              {tables.kinds.map((kind) => (
                <Tick
                  key={kind}
                  label={kind}
                  value={h.does.includes(kind)}
                  onChange={(on) => change({ does: on ? [...h.does, kind] : h.does.filter((d) => d !== kind) })}
                />
              ))}
            </details>
          </fieldset>
        );
      })}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set({ helpers: [...helpers, { name: `Helper ${helpers.length + 1}`, does: ["sanding"] }] })}
      >
        Add a helper
      </Button>
    </section>
  );
}

/** DaysOff are days on which nobody, or one of them, is at the bench. */
export function DaysOff({ shop: s, set }: Props) {
  const off = s.off ?? [];
  return (
    <section>
      <h2>Days off</h2>
      {off.map((o, i) => {
        const change = (part: Partial<typeof o>) => set((now) => ({ off: put(now.off ?? [], i, part) }), `off-${i}`);
        return (
          <Row key={i}>
            <Day
              label={`First day off ${i + 1}`}
              value={o.from}
              onChange={(from) => change({ from, to: o.to < from ? from : o.to })}
            />
            <Day
              label={`Last day off ${i + 1}`}
              value={o.to}
              onChange={(to) => change({ to, from: o.from > to ? to : o.from })}
            />
            <TextField
              label="Why"
              hideLabel
              value={o.why ?? ""}
              placeholder="Why"
              onChange={(why) => change({ why })}
            />
            {(s.helpers ?? []).length > 0 && (
              <Choice
                label={`Who is away ${i + 1}`}
                hideLabel
                value={o.who ?? ""}
                options={[{ value: "", label: "everybody" }, ...(s.helpers ?? []).map((h) => h.name)]}
                onChange={(who) => change({ who: who || undefined })}
              />
            )}
            <RemoveButton what={`days off ${i + 1}`} onClick={() => set((now) => ({ off: cut(now.off ?? [], i) }))} />
          </Row>
        );
      })}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set({ off: [...off, { from: today(), to: today() }] })}
      >
        Add days off
      </Button>
    </section>
  );
}

/** OnOrder are tools and supplies that come on a day: steps that need them wait. */
export function OnOrder({ shop: s, set }: Props) {
  const ordered = s.ordered ?? [];
  return (
    <section>
      <h2>On order</h2>
      <p className="facts">Named as steps name it: oil, thin CA, P120, mitre saw. What needs it waits for its day.</p>
      {ordered.map((o, i) => {
        const change = (part: Partial<typeof o>) =>
          set((now) => ({ ordered: put(now.ordered ?? [], i, part) }), `ordered-${i}`);
        return (
          <Row key={i}>
            <TextField label="What" hideLabel value={o.what} onChange={(what) => change({ what })} />
            <Day label={`Day on which ${o.what} comes`} value={o.day} onChange={(day) => change({ day })} />
            <RemoveButton what={o.what} onClick={() => set((now) => ({ ordered: cut(now.ordered ?? [], i) }))} />
          </Row>
        );
      })}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() => set({ ordered: [...ordered, { what: "oil", day: today() }] })}
      >
        Add an order
      </Button>
    </section>
  );
}

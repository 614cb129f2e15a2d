// The rules of thumb, as this shop holds them: searched, by stage of the work, the changed ones first.
import { useState } from "react";
import Form from "react-bootstrap/Form";
import type { Shop, Tables } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { LengthField, NumberField } from "../kit/fields";
import { useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

interface Props {
  shop: Shop;
  set: Edit<Shop>;
}

type RuleOf = Tables["rules"][number];

export function Rules({ shop: s, set }: Props) {
  const { tables, words } = useWorkshop();
  const { stages, nameOf } = useStages();
  const [sought, setSought] = useState("");
  const fits = (r: RuleOf) =>
    `${words(r.label)} ${nameOf(r.stage)}`.toLowerCase().includes(sought.trim().toLowerCase());
  const found = tables.rules.filter(fits);
  const changed = found.filter((r) => isChanged(s, r));
  const groups = stages
    .map((stage) => ({ stage, rules: found.filter((r) => r.stage === stage && !isChanged(s, r)) }))
    .filter((g) => g.rules.length > 0);
  return (
    <>
      <p className="facts">
        What rests on one is shown as an estimate. Press a value to set it to your own habit; a rule that you changed
        comes first, and goes back to the usual by one press.
      </p>
      <Form.Control
        size="sm"
        type="search"
        className="rule-search"
        placeholder="Search the rules"
        aria-label="Search the rules"
        value={sought}
        onChange={(e) => setSought(e.target.value)}
      />
      {found.length === 0 && <p className="facts">No rule speaks of that.</p>}
      <div className="rule-groups">
        {changed.length > 0 && (
          <section>
            <h2>Your own</h2>
            {changed.map((r) => (
              <Rule key={r.key} rule={r} shop={s} set={set} />
            ))}
          </section>
        )}
        {groups.map((g) => (
          <section key={g.stage}>
            <h2>{nameOf(g.stage)}</h2>
            {g.rules.map((r) => (
              <Rule key={r.key} rule={r} shop={s} set={set} />
            ))}
          </section>
        ))}
      </div>
    </>
  );
}

const isChanged = (s: Shop, r: RuleOf) => s.rules[r.key] !== undefined && s.rules[r.key] !== r.usual;

/** Rule is one rule: its value, which becomes a field when it is pressed. */
function Rule({ rule: r, shop: s, set }: Props & { rule: RuleOf }) {
  const { words, value, length, unit } = useWorkshop();
  const [open, setOpen] = useState(false);
  const now = s.rules[r.key] ?? r.usual;
  const follow = (v: number) => set((was) => ({ rules: { ...was.rules, [r.key]: v } }), r.key);
  // A rule is finer than what is measured with a rule: hundredths of a millimetre count.
  const show = (v: number) =>
    r.unit !== "mm" ? value(v, r.unit) : unit === "mm" ? `${Number(v.toFixed(2))} mm` : length(v);
  const reset = () =>
    set((was) => ({ rules: Object.fromEntries(Object.entries(was.rules).filter(([k]) => k !== r.key)) }));
  return (
    <div className="rule-line">
      {open ? (
        <div className="rule-open">
          {r.unit === "mm" ? (
            <LengthField label={words(r.label)} mm={now} least={r.min} most={r.max} onChange={follow} />
          ) : (
            <NumberField
              label={words(r.label)}
              unit={r.unit}
              value={now}
              least={r.min}
              most={r.max}
              step={r.max <= 5 ? 0.05 : 1}
              onChange={follow}
            />
          )}
          <button type="button" className="link" onClick={() => setOpen(false)}>
            Done
          </button>
        </div>
      ) : (
        <>
          <span>{words(r.label)}</span>
          <button
            type="button"
            className="rule-value"
            aria-label={`${words(r.label)}: ${show(now)}`}
            onClick={() => setOpen(true)}
          >
            {show(now)}
          </button>
        </>
      )}
      {isChanged(s, r) && (
        <button type="button" className="link" onClick={reset}>
          Back to {show(r.usual)}
        </button>
      )}
    </div>
  );
}

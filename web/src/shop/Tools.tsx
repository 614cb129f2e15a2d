// The tools that are owned: machines and hand tools as cards, each with what it takes, clamps, and what one more
// would save.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Shop, type Tool, type ToolKind } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { LengthField, NumberField, RemoveButton, Tick } from "../kit/fields";
import { cut, put } from "../kit/items";
import { useWorkshop } from "../kit/workshop";
import { Clamps } from "./Clamps";

interface Props {
  shop: Shop;
  set: Edit<Shop>;
}

export function Tools({ shop: s, set }: Props) {
  const { tables } = useWorkshop();
  const groups = [...new Set(tables.tools.map((k) => k.group))];
  return (
    <>
      {s.starter ? null : <Starters set={set} />}
      <Savings />
      {groups.map((g) => (
        <Group key={g} name={g} kinds={tables.tools.filter((k) => k.group === g)} shop={s} set={set} />
      ))}
      <RouterCard shop={s} set={set} />
      <div className="shop-columns">
        <Clamps shop={s} set={set} />
      </div>
      {s.starter && (
        <details className="again">
          <summary>Begin again from a starter shop</summary>
          <Starters set={set} />
        </details>
      )}
    </>
  );
}

/** Starters are the shops that one may begin with. */
function Starters({ set }: { set: Edit<Shop> }) {
  const { tables } = useWorkshop();
  return (
    <section className="starters">
      <h2>Which shop is most like yours?</h2>
      <p className="facts">
        Every step is planned with the tools that you own. Take one of these, then tick off what you do not have.
      </p>
      <div className="starter-cards">
        {tables.starters.map((o) => (
          <div key={o.name} className="starter">
            <h3>{o.name}</h3>
            <p>{o.what}</p>
            <p className="facts">{o.kit.tools.map((t) => t.kind).join(", ")}</p>
            <Button
              size="sm"
              variant="outline-primary"
              onClick={() => set({ drums: [], router: { base: 0 }, ...o.kit })}
            >
              Begin with {o.name.toLowerCase()}
            </Button>
          </div>
        ))}
      </div>
    </section>
  );
}

/** Savings are what each tool that is not owned would save, and would have saved. */
function Savings() {
  const { value } = useWorkshop();
  const saved = useQuery({ queryKey: ["savings"], queryFn: () => unwrap(api.GET("/api/shop/savings")) });
  const all = (saved.data ?? []).slice(0, 3);
  if (all.length === 0) return null;
  return (
    <section className="savings">
      <h2>What one more tool would save</h2>
      <p className="facts">On the boards in work and those given away in the last 90 days, at your own pace.</p>
      <ul className="plain-list">
        {all.map((o) => (
          <li key={o.tool}>
            <strong>{o.tool}</strong>: {value(o.minutes, "min")} on{" "}
            {o.boards === 1 ? "one board" : `${o.boards} boards`}
          </li>
        ))}
      </ul>
    </section>
  );
}

function Group({ name, kinds, shop: s, set }: Props & { name: string; kinds: ToolKind[] }) {
  const names = kinds.map((k) => k.kind);
  const missing = kinds.filter((k) => !s.tools.some((t) => t.kind === k.kind));
  const add = (k: ToolKind) =>
    set((now) => ({
      tools: [...now.tools, { kind: k.kind, ...Object.fromEntries((k.limits ?? []).map((l) => [l.field, l.start])) }],
    }));
  return (
    <section className="tool-group">
      <h2>{name}</h2>
      <div className="tool-cards">
        {s.tools.map((t, i) => {
          const kind = kinds.find((k) => k.kind === t.kind);
          if (!kind || !names.includes(t.kind)) return null;
          return (
            <Card
              key={i}
              tool={t}
              kind={kind}
              onChange={(part) =>
                set((now) => ({ tools: put(now.tools, i, part) }), `tool-${i}-${Object.keys(part)[0]}`)
              }
              onRemove={() => set((now) => ({ tools: cut(now.tools, i) }))}
            />
          );
        })}
      </div>
      {missing.length > 0 && (
        <p className="tool-more">
          <span>Not here:</span>
          {missing.map((k) => (
            <Button key={k.kind} size="sm" variant="outline-primary" onClick={() => add(k)}>
              Add {k.kind}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}

interface CardProps {
  tool: Tool;
  kind: ToolKind;
  onChange: (part: Partial<Tool>) => void;
  onRemove: () => void;
}

/** Card is one tool: what it takes drawn to scale, its limits in words, and to be changed when it is opened. */
function Card({ tool: t, kind, onChange, onRemove }: CardProps) {
  const { length } = useWorkshop();
  const [open, setOpen] = useState(false);
  const limits = kind.limits ?? [];
  const has = (field: string) => (t as unknown as Record<string, number | undefined>)[field] ?? 0;
  const said = limits.map((l) => {
    const v = has(l.field);
    if (l.field === "grit") return v > 0 ? `P${v}` : "";
    if (l.field === "count") return v > 0 ? `${l.label.toLowerCase()} ${v}` : "";
    return v > 0 ? `${l.label.toLowerCase()} ${length(v)}` : `${l.label.toLowerCase()} not measured`;
  });
  return (
    <div className={limits.length > 0 ? "tool-card" : "tool-card plain"}>
      <div className="tool-head">
        <h3>{t.kind}</h3>
        <RemoveButton what={t.kind} onClick={onRemove} />
      </div>
      {limits.length > 0 && (
        <>
          <Opening tool={t} />
          <p className="facts">{said.filter(Boolean).join(", ")}</p>
          <button
            type="button"
            className="link"
            aria-expanded={open}
            aria-label={`${open ? "Done" : "Change"}: limits of the ${t.kind}`}
            onClick={() => setOpen(!open)}
          >
            {open ? "Done" : "Change"}
          </button>
          {open && (
            <>
              {limits.map((l) =>
                l.field === "grit" || l.field === "count" ? (
                  <NumberField
                    key={l.field}
                    label={l.label}
                    whole
                    of={`shop.tools.${l.field}`}
                    value={has(l.field)}
                    onChange={(v) => onChange({ [l.field]: v })}
                  />
                ) : (
                  <LengthField
                    key={l.field}
                    label={l.label}
                    of={`shop.tools.${l.field}`}
                    mm={has(l.field)}
                    onChange={(v) => onChange({ [l.field]: v })}
                  />
                ),
              )}
              {t.kind === "planer" && (
                <Tick
                  label="A standing machine"
                  value={t.heavy ?? false}
                  onChange={(heavy) => onChange({ heavy: heavy || undefined })}
                />
              )}
            </>
          )}
        </>
      )}
    </div>
  );
}

/** Scale of the openings, pixels a millimetre, and the widest and highest that are drawn. */
const scale = 0.2;
const widest = 200;
const highest = 60;

/** Opening is what goes through a tool, to one scale for all, with the section of a usual board in it. */
function Opening({ tool: t }: { tool: Tool }) {
  const wide = Math.min(widest, (t.width || t.throat || 0) * scale);
  const high = Math.min(highest, (t.height || t.travel || 60) * scale);
  if (wide === 0 && !t.travel && !t.height) return null;
  const w = Math.max(wide, 30);
  const boardWide = 240 * scale;
  const boardHigh = 24 * scale;
  const floor = Math.max(high, boardHigh) + 2;
  return (
    <svg className="opening" width={widest + 8} height={floor + 3} aria-hidden="true">
      <rect className="opening-room" x={2} y={floor - high} width={w} height={high} />
      <rect
        className={boardWide > w || boardHigh > high ? "opening-board over" : "opening-board"}
        x={2}
        y={floor - boardHigh}
        width={Math.min(boardWide, widest)}
        height={boardHigh}
      />
      <line className="opening-table" x1={0} y1={floor} x2={widest + 8} y2={floor} />
    </svg>
  );
}

/** RouterCard is the router: its bits lie in the drawers. */
function RouterCard({ shop: s, set }: Props) {
  const { length } = useWorkshop();
  const r = s.router ?? { base: 0 };
  const router = (part: Partial<NonNullable<Shop["router"]>>, kind: string) =>
    set((now) => ({ router: { ...(now.router ?? { base: 0 }), ...part } }), kind);
  return (
    <section className="tool-group">
      <h2>Router</h2>
      {r.base === 0 ? (
        <p className="tool-more">
          <Button size="sm" variant="outline-primary" onClick={() => router({ base: 150 }, "router")}>
            Add router
          </Button>
        </p>
      ) : (
        <div className="tool-cards">
          <div className="tool-card">
            <div className="tool-head">
              <h3>router</h3>
              <RemoveButton what="router" onClick={() => router({ base: 0 }, "router")} />
            </div>
            <p className="facts">
              base {length(r.base)}
              {(r.subBase ?? 0) > 0 && `, larger base ${length(r.subBase ?? 0)}`}
              {r.table ? ", in a table too" : ", by hand"}. Its bits lie in the drawers.
            </p>
            <LengthField
              label="Width of its base"
              of="shop.router.base"
              mm={r.base}
              onChange={(base) => router({ base }, "base")}
            />
            <LengthField
              label="A larger base under it"
              of="shop.router.subBase"
              mm={r.subBase ?? 0}
              onChange={(subBase) => router({ subBase }, "sub-base")}
            />
            <Tick
              label="It goes under a table"
              value={r.table ?? false}
              onChange={(table) => router({ table: table || undefined }, "table")}
            />
          </div>
        </div>
      )}
    </section>
  );
}

// What is made at each machine in one visit, over all pieces of a run; and what the run takes.
import type { RunSheet } from "../api/client";
import { showMinutes } from "../kit/length";
import { useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

export function Cuts({ of }: { of: RunSheet }) {
  const { words } = useWorkshop();
  if (of.machines.length === 0) return <p className="empty">Nothing is cut for this run any more.</p>;
  return (
    <div className="visits">
      {of.machines.map((m) => (
        <section key={m.machine}>
          <h2>
            {m.machine} <span className="facts">{showMinutes(m.minutes)}</span>
          </h2>
          <ul className="plain-list">
            {m.made.map((made, i) => (
              <li key={i}>
                {words(made.name)} <span className="facts">{made.board + ", " + made.slab}</span>
              </li>
            ))}
          </ul>
        </section>
      ))}
    </div>
  );
}

export function Needs({ of }: { of: RunSheet }) {
  const { value } = useWorkshop();
  const { nameOf } = useStages();
  const t = of.template;
  return (
    <div className="visits">
      <section>
        <h2>From the shelf</h2>
        <ul className="plain-list">
          {of.shelf.map((u) => (
            <li key={u.kind + u.item + u.unit}>
              {u.item} <strong>{value(u.amount, u.unit)}</strong>
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h2>Hours still to do</h2>
        <ul className="plain-list">
          {of.phases.map((p) => (
            <li key={p.stage}>
              {nameOf(p.stage as Parameters<typeof nameOf>[0])} <strong>{showMinutes(p.minutes)}</strong>{" "}
              <span className="facts">{Math.round(p.share)} %</span>
            </li>
          ))}
        </ul>
      </section>
      {t.boards > 0 && (
        <section>
          <h2>A template</h2>
          <p>
            {t.boards === 1 ? "Every board has a shape of its own" : `${t.boards} boards have one shape`}: with a
            template {showMinutes(t.with)}, without {showMinutes(t.without)}. By the rules it pays from {t.from} boards
            of one shape.
          </p>
          {t.shapes > 1 && t.costs > 0.5 && (
            <p className="facts">
              {t.shapes} shapes cost {showMinutes(t.costs)} a board more than one that all share.
            </p>
          )}
        </section>
      )}
    </div>
  );
}

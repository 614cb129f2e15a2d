// Finishes that are kept by name, and what their products cost.
import type { Shop } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { NumberField, RemoveButton, Row } from "../kit/fields";
import { cut } from "../kit/items";
import { useWorkshop } from "../kit/workshop";

const centsPerUnit = 100;

export function Finishes({ shop: s, set }: { shop: Shop; set: Edit<Shop> }) {
  const { tables } = useWorkshop();
  const kept = s.finishes ?? [];
  const prices = s.prices ?? {};
  return (
    <section className="rack-row">
      <h2>Finishes</h2>
      {kept.length === 0 ? (
        <p className="facts">None is kept yet: edit one at a board under Finish, and keep it there by a name.</p>
      ) : (
        <ul className="plain-list">
          {kept.map((f, i) => (
            <li key={f.name}>
              {f.name}{" "}
              <span className="facts">{f.list.map((a) => a.product || (a.sand ? "rub" : "wait")).join(", ")}</span>{" "}
              <RemoveButton what={f.name} onClick={() => set((now) => ({ finishes: cut(now.finishes ?? [], i) }))} />
            </li>
          ))}
        </ul>
      )}
      <h3>What a kilogram costs</h3>
      <Row>
        {tables.products.map((p) => (
          <NumberField
            key={p.name}
            label={p.name}
            least={0}
            most={100000}
            value={(prices[p.name] ?? p.price) / centsPerUnit}
            onChange={(v) =>
              set((now) => ({ prices: { ...now.prices, [p.name]: Math.round(v * centsPerUnit) } }), `price-${p.name}`)
            }
          />
        ))}
      </Row>
    </section>
  );
}

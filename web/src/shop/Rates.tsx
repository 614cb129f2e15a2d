// What prices are reckoned by.
import { MoneyField, NumberField, Row, TextField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import type { Props } from "./sections";

export function Rates({ shop: s, set }: Props) {
  const { tables } = useWorkshop();
  const r = s.money ?? tables.rates;
  const change = (some: Partial<typeof r>, key: string) =>
    set((now) => ({ money: { ...(now.money ?? tables.rates), ...some } }), key);
  return (
    <section>
      <h2>Prices</h2>
      <Row>
        <MoneyField
          label="An hour of work"
          of="shop.money.hour"
          cents={r.hour}
          onChange={(cents) => change({ hour: cents }, "hour")}
        />
        <NumberField
          label="Overhead"
          unit="%"
          of="shop.money.overhead"
          value={r.overhead}
          onChange={(overhead) => change({ overhead }, "overhead")}
        />
        <MoneyField
          label="Overhead an hour"
          of="shop.money.byHour"
          cents={r.byHour ?? 0}
          onChange={(cents) => change({ byHour: cents }, "byHour")}
        />
      </Row>
      <Row>
        <NumberField
          label="Margin"
          unit="%"
          of="shop.money.margin"
          value={r.margin}
          onChange={(margin) => change({ margin }, "margin")}
        />
        <NumberField
          label="Fee of sale"
          unit="%"
          of="shop.money.fee"
          value={r.fee}
          step={0.5}
          onChange={(fee) => change({ fee }, "fee")}
        />
        <MoneyField
          label="Rounded up to"
          of="shop.money.step"
          cents={r.step}
          step={0.5}
          onChange={(cents) => change({ step: Math.max(1, cents) }, "step")}
        />
        <TextField label="Sign of the currency" value={r.sign ?? ""} onChange={(sign) => change({ sign }, "sign")} />
      </Row>
      <p className="facts">A gift shows only what it costs. Money is counted in whole cents, and never converted.</p>
    </section>
  );
}

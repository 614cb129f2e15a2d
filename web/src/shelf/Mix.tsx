// A product that is mixed in the shop: what goes into it, a batch of it, and labels for its tins.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type Product, type ProductDoc, type Recipe, type Shopping } from "../api/client";
import { Choice, LengthField, NumberField, RemoveButton, Row, TextField, Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { kinds } from "./kinds";

/** RecipeFields are what a product is mixed from, by parts. */
export function RecipeFields({
  recipe,
  items,
  onChange,
}: {
  recipe: Recipe;
  items: Shopping["items"];
  onChange: (r: Recipe) => void;
}) {
  const set = (at: number, some: Partial<Recipe["parts"][number]>) =>
    onChange({ parts: recipe.parts.map((p, i) => (i === at ? { ...p, ...some } : p)) });
  return (
    <fieldset>
      <legend>Mixed from</legend>
      {recipe.parts.map((p, i) => (
        <Row key={i}>
          <NumberField
            label="Parts"
            of="product.recipe.parts.parts"
            value={p.parts}
            onChange={(parts) => set(i, { parts })}
          />
          <TextField
            label="Of"
            value={p.item}
            onChange={(item) => set(i, { item, kind: items.find((o) => o.item === item)?.kind ?? p.kind })}
          />
          <Choice
            label="Kind"
            value={p.kind}
            options={kinds.map((k) => ({ value: k, label: k }))}
            onChange={(kind) => set(i, { kind })}
          />
          <RemoveButton
            what={p.item || "the part"}
            onClick={() => onChange({ parts: recipe.parts.filter((_, k) => k !== i) })}
          />
        </Row>
      ))}
      <Button
        size="sm"
        variant="link"
        onClick={() => onChange({ parts: [...recipe.parts, { kind: "finish", item: "", parts: 1 }] })}
      >
        Add a part
      </Button>
    </fieldset>
  );
}

/** Batch mixes some tins: what they take, what one comes to, and what there is not enough of. */
export function Batch({ of: p }: { of: ProductDoc }) {
  const client = useQueryClient();
  const { value } = useWorkshop();
  const [packs, setPacks] = useState(4);
  const query = { packs };
  const path = { id: p.id };
  const batch = useQuery({
    queryKey: ["shelf", p.id, p.version, "batch", packs],
    queryFn: () => unwrap(api.GET("/api/shelf/{id}/batch", { params: { path, query } })),
    enabled: packs >= 1,
  });
  const mix = useMutation({
    mutationFn: () => unwrap(api.POST("/api/shelf/{id}/batch", { params: { path, query } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["shelf"] }),
  });
  const b = batch.data;
  return (
    <section className="batch" aria-label="A batch">
      <NumberField label="Tins to mix" whole least={1} most={500} value={packs} onChange={setPacks} />
      {b && (
        <>
          <ul className="plain-list">
            {b.lines.map((l) => (
              <li key={l.item}>
                {value(l.amount, l.unit)} of {l.item}
                {l.priced ? `, ${value(l.cents, "cents")}` : ", without a price"}
              </li>
            ))}
          </ul>
          <p>
            A tin comes to <strong>{value(b.each, "cents")}</strong>
            {p.product.cents > 0 && p.product.cents !== b.each && `, last time ${value(p.product.cents, "cents")}`}.
          </p>
          {b.short.length > 0 && <p className="late">Not enough of {b.short.join(", ")}.</p>}
        </>
      )}
      <Button size="sm" disabled={mix.isPending || !b || b.short.length > 0} onClick={() => mix.mutate()}>
        {packs === 1 ? "Mixed 1 tin" : `Mixed ${packs} tins`}
      </Button>{" "}
      <Wrong error={mix.error ?? batch.error} />
    </section>
  );
}

/** Label prints labels for tins and jars. */
export function Label({ of: p }: { of: ProductDoc }) {
  const [count, setCount] = useState(10);
  return (
    <Row>
      <NumberField label="Labels" whole least={1} most={100} value={count} onChange={setCount} />
      <a className="btn btn-sm btn-outline-primary" href={`/api/shelf/${p.id}/label.pdf?count=${count}`} download>
        Print labels
      </a>
    </Row>
  );
}

type Sheet = NonNullable<Product["sheet"]>;
type Figure = { [K in keyof Sheet]-?: Sheet[K] extends number | undefined ? K : never }[keyof Sheet];

const asked: Partial<Record<Product["kind"], [Figure, string, string][]>> = {
  resin: [
    ["volume", "Resin to one of hardener, by volume", ""],
    ["mass", "Hardener to 100 g of resin", "g"],
    ["densityA", "Density of resin", "g/ml"],
    ["densityB", "Density of hardener", "g/ml"],
    ["working", "Working time", "min"],
    ["demould", "Out of the mould after", "h"],
    ["sanded", "Sanded after", "h"],
    ["full", "Cured through after", "d"],
  ],
  glue: [
    ["working", "Open time", "min"],
    ["clamped", "In clamps", "min"],
    ["machine", "Machined after", "min"],
    ["spread", "Spread", "g/m²"],
  ],
  finish: [
    ["face", "First coat, face grain", "g/m²"],
    ["soak", "Soaks for", "min"],
    ["wait", "Next coat after", "min"],
    ["food", "For food after", "d"],
  ],
};

/** SheetFields are the figures of a product's data sheet; what is left at 0 stays as is usual. */
export function SheetFields({ of: p, onChange }: { of: Product; onChange: (s: Sheet | undefined) => void }) {
  const figures = asked[p.kind];
  if (!figures) return null;
  const s = p.sheet ?? {};
  const set = (some: Partial<Sheet>) => {
    const next = { ...s, ...some };
    onChange(Object.values(next).some((v) => v !== 0 && v !== "" && v !== false && v !== undefined) ? next : undefined);
  };
  return (
    <details open={p.sheet !== undefined}>
      <summary>Its data sheet</summary>
      <p className="facts">What stands here goes before the usual figures everywhere; 0 leaves what is usual.</p>
      <Row>
        {figures.map(([key, label, unit]) => (
          <NumberField
            key={key}
            label={label}
            unit={unit}
            of={`product.sheet.${key}`}
            value={s[key] ?? 0}
            onChange={(v) => set({ [key]: v })}
          />
        ))}
        {p.kind === "resin" && (
          <LengthField
            label="Deepest pour"
            of="product.sheet.pour"
            mm={s.pour ?? 0}
            onChange={(pour) => set({ pour })}
          />
        )}
      </Row>
      {p.kind !== "finish" && (
        <>
          <Tick
            label="It says how cold it may be"
            value={(s.coldest ?? 0) > 0}
            onChange={(on) => set({ coldest: on ? 15 : 0 })}
          />
          {(s.coldest ?? 0) > 0 && (
            <NumberField
              label="Not colder than"
              unit="°C"
              of="product.sheet.coldest"
              value={s.coldest ?? 0}
              onChange={(coldest) => set({ coldest })}
            />
          )}
        </>
      )}
      {p.kind === "finish" && (
        <>
          <TextField label="What is in it" value={s.contents ?? ""} onChange={(contents) => set({ contents })} />
          <Choice
            label="Nut oil"
            value={s.nut ? "yes" : ""}
            options={[
              { value: "", label: "as is usual" },
              { value: "yes", label: "it may hold some" },
            ]}
            onChange={(v) => set({ nut: v === "yes" })}
          />
        </>
      )}
    </details>
  );
}

// A product as it is put on the shelf, counted again, or put away.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { serverNow } from "../api/asking";
import { api, unwrap, type Product, type ProductDoc, type Shopping } from "../api/client";
import { Choice, DayField, LengthField, MoneyField, NumberField, Row, TextField, Tick, FormFoot } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { kinds } from "./kinds";
import { Batch, Label, RecipeFields, SheetFields } from "./Mix";

interface Props {
  of?: ProductDoc;
  /** What the work ahead takes. */
  items: Shopping["items"];
  onClose: () => void;
}

const units: Product["unit"][] = ["g", "ml", "mm", "pieces"];

const fresh = (): Product => ({
  name: "",
  kind: "abrasive",
  item: "",
  unit: "pieces",
  count: 0,
  counted: new Date(serverNow()).toISOString(),
  pack: 0,
  cents: 0,
  days: 0,
});

export function ProductForm({ of, items, onClose }: Props) {
  const client = useQueryClient();
  const [p, setProduct] = useState<Product>(() => of?.product ?? fresh());
  const [count, setCount] = useState<number>();
  const set = (some: Partial<Product>) => setProduct((now) => ({ ...now, ...some }));
  const done = async () => {
    await client.invalidateQueries({ queryKey: ["shelf"] });
    onClose();
  };
  const save = useMutation({
    mutationFn: useTyped(() => {
      const body = count === undefined ? p : { ...p, count, counted: new Date(serverNow()).toISOString() };
      return of
        ? unwrap(
            api.PUT("/api/shelf/{id}", {
              params: { path: { id: of.id } },
              body: { version: of.version, product: body },
            }),
          )
        : unwrap(api.POST("/api/shelf", { body }));
    }),
    onSuccess: done,
  });
  const away = useMutation({
    mutationFn: (id: string) => unwrap(api.DELETE("/api/shelf/{id}", { params: { path: { id } } })),
    onSuccess: done,
  });
  const known = items.find((i) => i.kind === p.kind && i.item === p.item && i.unit === p.unit);
  return (
    <form
      className="product-form"
      onSubmit={(e) => {
        e.preventDefault();
        save.mutate();
      }}
    >
      <Row>
        <Choice
          label="What the work takes"
          value={known ? `${known.kind}/${known.item}/${known.unit}` : ""}
          options={[
            { value: "", label: "something else" },
            ...items.map((i) => ({ value: `${i.kind}/${i.item}/${i.unit}`, label: `${i.item}, ${i.unit}` })),
          ]}
          onChange={(to) => {
            const i = items.find((o) => `${o.kind}/${o.item}/${o.unit}` === to);
            if (i) set({ kind: i.kind, item: i.item, unit: i.unit, name: p.name || i.item });
            else set({ item: "" });
          }}
        />
        <TextField label="Called" value={p.name} onChange={(name) => set({ name })} />
        {!known && (
          <>
            <TextField label="As the steps call it" value={p.item} onChange={(item) => set({ item })} />
            <Choice
              label="Kind"
              value={p.kind}
              options={kinds.map((k) => ({ value: k, label: k }))}
              onChange={(kind) => set({ kind })}
            />
            <Choice
              label="Measured in"
              value={p.unit}
              options={units.map((u) => ({ value: u, label: u }))}
              onChange={(unit) => set({ unit })}
            />
          </>
        )}
      </Row>
      <Row>
        <Amount
          label="Counted now"
          of="product.count"
          unit={p.unit}
          value={count ?? of?.stands.left ?? 0}
          onChange={setCount}
        />
        <Amount
          label="A pack holds"
          of="product.pack"
          unit={p.unit}
          value={p.pack}
          onChange={(pack) => set({ pack })}
        />
        <MoneyField label="A pack costs" of="product.cents" cents={p.cents} onChange={(cents) => set({ cents })} />
        <NumberField label="Days to get it" of="product.days" whole value={p.days} onChange={(days) => set({ days })} />
      </Row>
      <Row>
        <DayField label="Opened" value={p.opened ?? ""} onChange={(opened) => set({ opened })} />
        <DayField label="Best before" value={p.best ?? ""} onChange={(best) => set({ best })} />
        <TextField label="Where" value={p.where ?? ""} onChange={(where) => set({ where })} />
        <TextField label="Colour" value={p.colour ?? ""} onChange={(colour) => set({ colour })} />
      </Row>
      <Making of={of} p={p} items={items} setProduct={setProduct} />
      <TextField label="Where it is bought" value={p.shops ?? ""} onChange={(shops) => set({ shops })} />
      <TextField label="Note" rows={2} value={p.note ?? ""} onChange={(note) => set({ note })} />
      <FormFoot
        saving={save.isPending}
        ready={p.name.trim() !== "" && p.item.trim() !== ""}
        onClose={onClose}
        what={of && p.name}
        onRemove={() => of && away.mutate(of.id)}
      />
      <Wrong error={save.error ?? away.error} />
    </form>
  );
}

interface MakingProps {
  of?: ProductDoc;
  p: Product;
  items: Shopping["items"];
  setProduct: (next: (now: Product) => Product) => void;
}

/** Making is what its data sheet says, what it is mixed from, and labels for it. */
function Making({ of, p, items, setProduct }: MakingProps) {
  return (
    <>
      <SheetFields
        of={p}
        onChange={(sheet) =>
          setProduct((now) => {
            const next = { ...now, sheet };
            if (!sheet) delete next.sheet;
            return next;
          })
        }
      />
      <Tick
        label="It is mixed here"
        value={p.recipe !== undefined}
        onChange={(on) =>
          setProduct((now) => {
            const next = { ...now, recipe: { parts: [{ kind: now.kind, item: "", parts: 1 }] } };
            if (on) return next;
            const { recipe, ...plain } = next;
            return recipe ? plain : now;
          })
        }
      />
      {p.recipe && (
        <RecipeFields
          recipe={p.recipe}
          items={items}
          onChange={(recipe) => setProduct((now) => ({ ...now, recipe }))}
        />
      )}
      {of?.product.recipe && <Batch of={of} />}
      {of && <Label of={of} />}
    </>
  );
}

interface AmountProps {
  label: string;
  of: string;
  unit: Product["unit"];
  value: number;
  onChange: (v: number) => void;
}

/** Amount is how much of a product, in its unit. */
function Amount({ unit, value, ...field }: AmountProps) {
  if (unit === "mm") return <LengthField {...field} mm={value} />;
  return <NumberField {...field} unit={unit === "pieces" ? "" : unit} value={value} />;
}

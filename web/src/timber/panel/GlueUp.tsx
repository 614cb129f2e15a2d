// Glue up: what the panel is for and of which wood; the constructions compared; any can
// be taken.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useSearchParams } from "react-router";
import { named, newName } from "../../api/asking";
import { api, unwrap, type Need, type PanelChoice } from "../../api/client";
import { Choice, LengthField, Row, TextField, Tick } from "../../kit/fields";
import { showMinutes } from "../../kit/length";
import { Wrong } from "../../kit/parts";
import { useTyped } from "../../kit/readings";
import { useTitle } from "../../kit/title";
import { LevelMark } from "../../kit/verdicts";
import { useWorkshop } from "../../kit/workshop";
import { PanelPicture } from "./PanelPicture";

const start: Need = {
  length: 380,
  width: 240,
  thickness: 20,
  use: "serving",
  keen: false,
  mirrored: false,
  species: ["Pear", "Robinia"],
  stock: 24,
  plank: 120,
};

export default function GlueUp() {
  useTitle("Glue up a panel", 1);
  const [search] = useSearchParams();
  const given = (key: "length" | "width" | "thickness") => Number(search.get(key)) || start[key];
  const [need, setNeed] = useState<Need>({
    ...start,
    length: given("length"),
    width: given("width"),
    thickness: given("thickness"),
  });
  const [name, setName] = useState(search.get("name") ?? "");
  const [pieces, setPieces] = useState<string[]>([]);
  const { words } = useWorkshop();
  const navigate = useNavigate();
  const client = useQueryClient();
  const choices = useQuery({
    queryKey: ["choose", need],
    queryFn: () => unwrap(api.POST("/api/panels/choose", { body: need })),
    placeholderData: (before) => before,
    retry: false,
  });
  const begin = useTyped((construction: PanelChoice["construction"]) =>
    unwrap(
      api.POST("/api/panels", {
        ...named(newName()),
        body: { name: name.trim() || "New panel", construction, need, pieces },
      }),
    ),
  );
  const take = useMutation({
    mutationFn: begin,
    onSuccess: (p) => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate(`/timber/${p.id}`);
    },
  });
  const best = choices.data?.find((c) => c.best);
  return (
    <div className="sheet-page glue-up">
      <header className="page-head">
        <Link to="/timber" className="back">
          Timber
        </Link>
        <h1>Glue up a panel</h1>
      </header>
      <div className="glue-up-body">
        <section aria-label="What it is for">
          <NeedFields need={need} onChange={(part) => setNeed((n) => ({ ...n, ...part }))} />
          <TextField label="Name of the panel" value={name} onChange={setName} />
          <FromRack pieces={pieces} onChange={setPieces} />
        </section>
        <section aria-label="Constructions">
          {best && (
            <p className="advice" role="status">
              <strong>{label(best.construction)}</strong>. {words(best.why)}. Any can be taken.
            </p>
          )}
          <Wrong error={take.error ?? choices.error} />
          <div className="choosing">
            {(choices.data ?? []).map((c) => (
              <ChoiceCard
                key={c.construction}
                choice={c}
                onTake={() => take.mutate(c.construction)}
                busy={take.isPending}
              />
            ))}
          </div>
        </section>
      </div>
    </div>
  );
}

const label = (construction: string) => construction[0].toUpperCase() + construction.slice(1);

function NeedFields({ need, onChange }: { need: Need; onChange: (part: Partial<Need>) => void }) {
  const { tables, shop } = useWorkshop();
  const known = [...(shop.species ?? []).map((s) => s.name), ...tables.species.map((s) => s.name)];
  const [repeat, setRepeat] = useState(need.species.join(", "));
  const [wrong, setWrong] = useState("");
  const take = (text: string) => {
    setRepeat(text);
    const words = text
      .split(",")
      .map((w) => w.trim())
      .filter((w) => w !== "");
    const found = words.map((w) => known.find((n) => n.toLowerCase() === w.toLowerCase()));
    const missing = words[found.indexOf(undefined)];
    setWrong(missing ? `${missing} is not among the woods` : words.length === 0 ? "Name one wood at least" : "");
    if (!missing && words.length > 0) onChange({ species: found as string[] });
  };
  return (
    <>
      <Row>
        <Choice
          label="Its boards are for"
          value={need.use}
          options={[
            { value: "serving", label: "serving: looks first" },
            { value: "carving", label: "carving: cut on" },
          ]}
          onChange={(use) => onChange({ use: use as Need["use"] })}
        />
      </Row>
      <Tick
        label="For a keen cook, who minds the knives"
        value={need.keen ?? false}
        onChange={(keen) => onChange({ keen })}
      />
      <Row>
        <LengthField label="Length" of="need.length" mm={need.length} onChange={(length) => onChange({ length })} />
        <LengthField label="Width" of="need.width" mm={need.width} onChange={(width) => onChange({ width })} />
        <LengthField
          label="Thickness"
          of="need.thickness"
          mm={need.thickness}
          onChange={(thickness) => onChange({ thickness })}
        />
      </Row>
      <TextField label="Woods of the repeat, from the left" value={repeat} onChange={take} />
      {wrong && <p className="wrong">{wrong}</p>}
      <Tick
        label="The right half mirrors the left"
        value={need.mirrored ?? false}
        onChange={(mirrored) => onChange({ mirrored })}
      />
      <Row>
        <LengthField
          label="Planks, planed to"
          of="need.stock"
          mm={need.stock}
          onChange={(stock) => onChange({ stock })}
        />
        <LengthField label="Planks, wide" of="need.plank" mm={need.plank} onChange={(plank) => onChange({ plank })} />
      </Row>
    </>
  );
}

/** FromRack chooses pieces and offcuts that the strips are ripped from. */
function FromRack({ pieces, onChange }: { pieces: string[]; onChange: (ids: string[]) => void }) {
  const { length } = useWorkshop();
  const rack = useQuery({
    queryKey: ["pieces", "glue-up"],
    queryFn: () => unwrap(api.GET("/api/pieces", { params: { query: { sort: "name" } } })),
  });
  const items = rack.data?.items ?? [];
  if (items.length === 0) return null;
  return (
    <fieldset className="from-rack">
      <legend>Ripped from</legend>
      <p className="facts">By turns from those that are ticked; what they do not give is to be bought.</p>
      {items.map((o) => (
        <Tick
          key={o.id}
          label={`${o.name}: ${o.species}, ${length(o.length)} × ${length(o.width)} × ${length(o.thickness)}`}
          value={pieces.includes(o.id)}
          onChange={(on) => onChange(on ? [...pieces, o.id] : pieces.filter((id) => id !== o.id))}
        />
      ))}
    </fieldset>
  );
}

function ChoiceCard({ choice: c, onTake, busy }: { choice: PanelChoice; onTake: () => void; busy: boolean }) {
  const { length, value, words } = useWorkshop();
  return (
    <article className={`choosing-card ${c.best ? "is-best" : ""}`} aria-label={label(c.construction)}>
      <header>
        <h2>{label(c.construction)}</h2>
        {c.best && <span className="best-mark">the one to take</span>}
      </header>
      <PanelPicture parts={c.parts} length={c.length} width={c.width} />
      <dl className="amounts">
        {(
          [
            ["Knives", c.knives],
            ["Looks", c.looks],
            ["Moves a year", length(Math.round(c.movement * 100) / 100)],
            ["Finish it drinks", `${value(c.drinks, "")} ×`],
            ["Strips", `${c.strips}, of ${c.planks} ${c.planks === 1 ? "plank" : "planks"}`],
            ["Hands-on", showMinutes(c.minutes)],
            ["Machined after", value(c.days, "d")],
          ] as const
        ).map(([k, v]) => (
          <div key={k}>
            <dt>{k}</dt>
            <dd>{v}</dd>
          </div>
        ))}
      </dl>
      {c.level !== "good" && (
        <p className="facts">
          <LevelMark level={c.level} word={false} /> {words(c.finding)}
        </p>
      )}
      <Button size="sm" variant={c.best ? "primary" : "outline-primary"} disabled={busy} onClick={onTake}>
        Take it
      </Button>
    </article>
  );
}

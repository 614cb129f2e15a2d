// The rack: every piece as a silhouette to scale, searched, sorted and summed.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState, type KeyboardEvent, type RefObject } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import Form from "react-bootstrap/Form";
import { Link, useNavigate, useSearchParams } from "react-router";
import { api, unwrap, type PieceLine } from "../api/client";
import { Silhouette } from "../kit/drawing";
import { Choice, LengthField } from "../kit/fields";
import { Pages, useSought } from "../kit/list";
import { Wrong } from "../kit/parts";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";
import { ToCome } from "./ToCome";
import { NewPiece } from "./NewPiece";
import { stocks } from "./What";

const sorts = {
  newest: "newest first",
  name: "by name",
  species: "by species",
  longest: "longest first",
  thickest: "thickest first",
  driest: "driest first",
  dearest: "dearest first",
} as const;
type Sort = keyof typeof sorts;
type Stock = keyof typeof stocks;

/** numberIn is a number of the address, if there is one. */
const numberIn = (get: (key: string) => string, key: string) => Number(get(key)) || undefined;

/** queryOf is what is asked for, by the address. */
function queryOf(get: (key: string) => string, sought: string) {
  const place = get("place");
  const number = (key: string) => numberIn(get, key);
  return {
    q: sought,
    bin: place === "bin",
    cut: place === "cut",
    species: get("species") || undefined,
    stock: (get("stock") || undefined) as Stock | undefined,
    ready: (get("ready") || undefined) as "ready" | "not ready" | undefined,
    lengthFrom: number("lengthFrom"),
    thickFrom: number("thickFrom"),
    thickTo: number("thickTo"),
    centsTo: number("centsTo"),
    sort: (get("sort") || undefined) as Sort | undefined,
  };
}

/** emptyOf says why nothing is shown. */
function emptyOf(place: string, narrowed: boolean): string {
  if (place === "bin") return "The offcut bin is empty.";
  if (place === "cut") return "Nothing was cut up yet.";
  return narrowed ? "Nothing on the rack answers to this." : "The rack is empty. Add the first piece.";
}

/** useRackKeys goes through the rack by the arrows. */
function useRackKeys(list: RefObject<HTMLUListElement | null>, onNew: () => void) {
  return (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey || (e.target as Element).matches("input, select, textarea")) return;
    const links = [...(list.current?.querySelectorAll<HTMLElement>("a.rack-line") ?? [])];
    const at = links.indexOf(document.activeElement as HTMLElement);
    const wide = links.findIndex((l) => l.offsetTop > (links[0]?.offsetTop ?? 0) + 4);
    const row = wide < 0 ? links.length : wide;
    const step: Record<string, number> = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: row, ArrowUp: -row };
    if (e.key === "/") document.querySelector<HTMLElement>(".seek")?.focus();
    else if (e.key === "n") onNew();
    else if (e.key in step && links.length > 0)
      links[at < 0 ? 0 : Math.max(0, Math.min(links.length - 1, at + step[e.key]))].focus();
    else return;
    e.preventDefault();
  };
}

export default function Rack() {
  const { value } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [sought, setSought, settled] = useSought();
  const [search, setSearch] = useSearchParams();
  const [adding, setAdding] = useState(false);
  const [open, setOpen] = useState(false);
  const [page, setPage] = useState(0);
  const list = useRef<HTMLUListElement>(null);
  const get = (key: string) => search.get(key) ?? "";
  const set = (key: string, v: string) => {
    setPage(0);
    setSearch(
      (now) => {
        const next = new URLSearchParams(now);
        if (v) next.set(key, v);
        else next.delete(key);
        return next;
      },
      { replace: true },
    );
  };
  const place = get("place");
  const query = queryOf(get, settled);
  const rack = useQuery({
    queryKey: ["pieces", query, page],
    queryFn: () => unwrap(api.GET("/api/pieces", { params: { query: { ...query, page } } })),
    placeholderData: (before) => before,
  });
  const species = useQuery({ queryKey: ["pieces", "species"], queryFn: () => unwrap(api.GET("/api/pieces/species")) });
  const restore = useMutation({
    mutationFn: (id: string) => unwrap(api.POST("/api/pieces/{id}/restore", { params: { path: { id } } })),
    onSuccess: () => client.invalidateQueries({ queryKey: ["pieces"] }),
  });
  const items = rack.data?.items ?? [];
  const filters = ["species", "stock", "ready", "lengthFrom", "thickFrom", "thickTo", "centsTo"].filter(
    (k) => get(k) !== "",
  ).length;
  const files = new URLSearchParams(Object.entries(query).flatMap(([k, v]) => (v ? [[k, String(v)]] : []))).toString();
  const onKeyDown = useRackKeys(list, () => setAdding(true));
  return (
    <div className="sheet-page" onKeyDown={onKeyDown}>
      <header className="page-head">
        <h1>Timber</h1>
        <Form.Control
          size="sm"
          type="search"
          className="seek"
          placeholder="Name, species, kept for"
          aria-label="Look for a name or species"
          value={sought}
          onChange={(e) => setSought(e.target.value)}
        />
        <Choice
          label="Where"
          hideLabel
          value={place}
          options={[
            { value: "", label: "on the rack" },
            { value: "cut", label: "cut up" },
            { value: "bin", label: "offcut bin" },
          ]}
          onChange={(v) => set("place", v)}
        />
        <Choice
          label="Order"
          hideLabel
          value={get("sort") || "newest"}
          options={Object.entries(sorts).map(([v, label]) => ({ value: v, label }))}
          onChange={(v) => set("sort", v === "newest" ? "" : v)}
        />
        <Button size="sm" variant="outline-primary" aria-expanded={open} onClick={() => setOpen(!open)}>
          Narrow{filters > 0 ? `: ${filters}` : ""}
        </Button>
        <span className="ms-auto d-flex gap-2 align-items-center">
          <RackFiles query={files} />
          <Link to="/timber/glue" className="btn btn-outline-primary">
            Glue up a panel
          </Link>
          <Button onClick={() => setAdding(true)}>Add a piece</Button>
        </span>
      </header>
      {open && (
        <Narrow
          get={get}
          set={set}
          species={species.data ?? []}
          onAll={() => setSearch(place ? { place } : {}, { replace: true })}
        />
      )}
      <Wrong error={rack.error ?? restore.error} />
      {rack.data && (
        <p className="rack-sum" role="status">
          {rack.data.total === 1 ? "1 piece" : `${rack.data.total} pieces`}, {rack.data.ready} ready
          {rack.data.cents > 0 && `, worth ${value(rack.data.cents, "cents")}`}
        </p>
      )}
      {rack.data && items.length === 0 && <p className="empty">{emptyOf(place, Boolean(sought || filters))}</p>}
      <Pieces ref={list} items={items} binned={place === "bin"} onRestore={(id) => restore.mutate(id)} />
      <Pages total={rack.data?.total ?? 0} page={page} onPage={setPage} />
      <ToCome key={species.data?.[0]} species={species.data ?? []} />
      <NewPiece
        show={adding}
        onHide={() => setAdding(false)}
        onMade={(id) => {
          void client.invalidateQueries({ queryKey: ["pieces"] });
          void navigate(`/timber/${id}`);
        }}
      />
    </div>
  );
}

function PieceCard({ piece: p, longest }: { piece: PieceLine; longest: number }) {
  const { length } = useWorkshop();
  return (
    <>
      <div className="rack-wood">
        <Silhouette
          path={p.path}
          box={[0, p.minY, p.length, p.maxY]}
          light={p.light}
          dark={p.dark}
          label={`Outline of ${p.name}`}
          longest={longest}
          seed={p.name}
          parts={p.parts ?? undefined}
        />
      </div>
      <div className="rack-words">
        <strong>{p.name}</strong>
        <span>
          {p.species}
          {p.stock && p.stock !== "slab" && `, ${stocks[p.stock as Stock].toLowerCase()}`}
          {p.reserved && `, kept for ${p.reserved}`}
        </span>
        <span>
          {length(p.length)} × {length(p.width)} × {length(p.thickness)}
        </span>
        <span className="ready">
          <LevelMark level={p.ready ? "good" : "mind"} word={false} />{" "}
          {p.moisture > 0 ? `${Number(p.moisture.toFixed(1))} %` : "not read"} ·{" "}
          {p.ready ? "ready" : p.finding.split(".")[0].split(";")[0]}
        </span>
      </div>
    </>
  );
}

interface NarrowProps {
  get: (key: string) => string;
  set: (key: string, v: string) => void;
  species: string[];
  onAll: () => void;
}

/** Narrow is what the pieces that are shown must be. */
function Narrow({ get, set, species, onAll }: NarrowProps) {
  const number = (key: string) => numberIn(get, key);
  return (
    <div className="narrow" role="group" aria-label="Narrow what is shown">
      <Choice
        label="Species"
        value={get("species")}
        options={[{ value: "", label: "any" }, ...species]}
        onChange={(v) => set("species", v)}
      />
      <Choice
        label="Kind"
        value={get("stock")}
        options={[{ value: "", label: "any" }, ...Object.entries(stocks).map(([v, label]) => ({ value: v, label }))]}
        onChange={(v) => set("stock", v)}
      />
      <Choice
        label="Moisture"
        value={get("ready")}
        options={[{ value: "", label: "any" }, "ready", "not ready"]}
        onChange={(v) => set("ready", v)}
      />
      <LengthField
        label="Length at least"
        mm={number("lengthFrom") ?? 0}
        onChange={(v) => set("lengthFrom", v ? String(v) : "")}
      />
      <LengthField
        label="Thick at least"
        mm={number("thickFrom") ?? 0}
        onChange={(v) => set("thickFrom", v ? String(v) : "")}
      />
      <LengthField
        label="Thick at most"
        mm={number("thickTo") ?? 0}
        onChange={(v) => set("thickTo", v ? String(v) : "")}
      />
      <Form.Group className="field" controlId="cents-to">
        <Form.Label>Price at most</Form.Label>
        <Form.Control
          size="sm"
          inputMode="decimal"
          value={get("centsTo") ? Number(get("centsTo")) / 100 : ""}
          onChange={(e) => set("centsTo", String(Math.round(Number(e.target.value.replace(",", ".")) * 100) || ""))}
        />
      </Form.Group>
      <Button size="sm" variant="outline-secondary" className="align-self-end mb-1" onClick={onAll}>
        Show all
      </Button>
    </div>
  );
}

/** RackFiles are the lists and labels of what is shown. */
function RackFiles({ query }: { query: string }) {
  return (
    <Dropdown align="end">
      <Dropdown.Toggle size="sm" variant="outline-primary" id="rack-files">
        Lists and labels
      </Dropdown.Toggle>
      <Dropdown.Menu>
        <Dropdown.Item href={`/api/rack/labels.pdf?${query}`} download>
          Labels of these, PDF
        </Dropdown.Item>
        <Dropdown.Item href={`/api/rack.csv?${query}`} download>
          These as CSV
        </Dropdown.Item>
        <Dropdown.Item href={`/api/rack.xlsx?${query}`} download>
          These as XLSX
        </Dropdown.Item>
        <Dropdown.Divider />
        <Dropdown.Item as={Link} to="/timber/list">
          Take in a list
        </Dropdown.Item>
      </Dropdown.Menu>
    </Dropdown>
  );
}

interface PiecesProps {
  ref: RefObject<HTMLUListElement | null>;
  items: PieceLine[];
  binned: boolean;
  onRestore: (id: string) => void;
}

/** Pieces are the silhouettes, all to one scale. */
function Pieces({ ref, items, binned, onRestore }: PiecesProps) {
  const longest = Math.max(900, ...items.map((p) => p.length));
  return (
    <ul className="rack" ref={ref}>
      {items.map((p) => (
        <li key={p.id}>
          {binned ? (
            <div className="rack-line">
              <PieceCard piece={p} longest={longest} />
              <Button size="sm" variant="outline-primary" onClick={() => onRestore(p.id)}>
                Put back
              </Button>
            </div>
          ) : (
            <Link to={`/timber/${p.id}`} className="rack-line">
              <PieceCard piece={p} longest={longest} />
            </Link>
          )}
        </li>
      ))}
    </ul>
  );
}

// A list of pieces taken in from CSV or XLSX: what is wrong is named line by
// line, what is good is offered, and nothing is stored before it is pressed.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate } from "react-router";
import { api, say, unwrap, type RackTable } from "../api/client";
import { FilePick, send } from "../kit/files";
import { useWorkshop } from "../kit/workshop";

export default function TakeIn() {
  const { length, unit } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const [table, setTable] = useState<RackTable | null>(null);
  const [left, setLeft] = useState<number[]>([]); // lines that are not wanted
  const read = useMutation({
    mutationFn: (file: File) => send<RackTable>("/api/rack/read", file),
    onSuccess: (t) => {
      setTable(t);
      setLeft([]);
    },
    onError: () => setTable(null),
  });
  const wanted = (table?.good ?? []).filter((r) => !left.includes(r.line));
  const take = useMutation({
    mutationFn: () => unwrap(api.POST("/api/rack", { body: { slabs: wanted.map((r) => r.slab) } })),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate("/timber");
    },
  });
  const wrong = read.error ?? take.error;
  return (
    <div className="sheet-page">
      <header className="page-head">
        <Link to="/timber" className="back">
          Timber
        </Link>
        <h1>Take in a list</h1>
        <FilePick
          label="Choose a CSV or XLSX file"
          accept=".csv,.xlsx,text/csv"
          busy={read.isPending}
          onFile={(f) => read.mutate(f)}
        />
      </header>
      <p className="facts">
        The first line names the columns: Name, Species, Length, Width at the butt and Thickness are needed. A bare
        number is in {unit === "mm" ? "millimetres" : "inches"}. A list taken out of the rack shows all columns.
      </p>
      {wrong && (
        <p className="wrong" role="alert">
          {say(wrong)}
        </p>
      )}
      {table && (
        <>
          {table.bad.length > 0 && (
            <section className="bad-rows" aria-label="Lines that cannot be pieces">
              <h2>
                {table.bad.length === 1 ? "One line cannot be a piece" : `${table.bad.length} lines cannot be pieces`}
              </h2>
              <ul>
                {table.bad.map((b) => (
                  <li key={b.line}>
                    <strong>
                      Line {b.line}
                      {b.name && `, ${b.name}`}
                    </strong>
                    {b.reasons.map((r) => (
                      <span key={r} className="facts">
                        {r}
                      </span>
                    ))}
                  </li>
                ))}
              </ul>
            </section>
          )}
          <section aria-label="Pieces offered">
            <h2>{table.good.length === 1 ? "One piece" : `${table.good.length} pieces`} can be taken in</h2>
            <table className="log">
              <thead>
                <tr>
                  <th>Line</th>
                  <th>Name</th>
                  <th>Species</th>
                  <th>Size</th>
                </tr>
              </thead>
              <tbody>
                {table.good.map((r) => (
                  <tr key={r.line}>
                    <td>
                      <label className="d-flex gap-2">
                        <input
                          type="checkbox"
                          checked={!left.includes(r.line)}
                          onChange={(e) =>
                            setLeft((now) => (e.target.checked ? now.filter((l) => l !== r.line) : [...now, r.line]))
                          }
                        />
                        {r.line}
                      </label>
                    </td>
                    <td>{r.slab.name}</td>
                    <td>{r.slab.species}</td>
                    <td>
                      {length(r.slab.length)} × {length(r.slab.show[0].left - r.slab.show[0].right)} ×{" "}
                      {length(r.slab.readings[0].thickness)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
            <Button className="mt-3" disabled={wanted.length === 0 || take.isPending} onClick={() => take.mutate()}>
              Put {wanted.length === 1 ? "this piece" : `these ${wanted.length} pieces`} on the rack
            </Button>
          </section>
        </>
      )}
    </div>
  );
}

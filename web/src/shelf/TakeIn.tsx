// The shelf as a table: taken out, and taken in from CSV or XLSX. What is wrong is named line by line, and nothing is
// stored before it is pressed.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { api, unwrap, type ShelfTable } from "../api/client";
import { FilePick, send } from "../kit/files";
import { Wrong } from "../kit/parts";

export function TakeIn() {
  const client = useQueryClient();
  const [table, setTable] = useState<ShelfTable | null>(null);
  const read = useMutation({
    mutationFn: (file: File) => send<ShelfTable>("/api/shelf/read", file),
    onSuccess: setTable,
    onError: () => setTable(null),
  });
  const take = useMutation({
    mutationFn: (from: ShelfTable) =>
      unwrap(api.POST("/api/shelf/rows", { body: { products: from.good.map((r) => r.product) } })),
    onSuccess: async () => {
      setTable(null);
      await client.invalidateQueries({ queryKey: ["shelf"] });
    },
  });
  return (
    <details className="shelf-table">
      <summary>The shelf as a table</summary>
      <p>
        <a href="/api/shelf.csv" download>
          CSV
        </a>
        {", "}
        <a href="/api/shelf.xlsx" download>
          XLSX
        </a>
        , with what is left of each. A table that is taken in needs the columns Name, Kind, Item, Left and Unit.
      </p>
      <FilePick
        label="Choose a CSV or XLSX file"
        accept=".csv,.xlsx,text/csv"
        busy={read.isPending}
        onFile={(f) => read.mutate(f)}
      />
      <Wrong error={read.error ?? take.error} />
      {table && (
        <div role="status">
          <ul className="plain-list">
            {table.bad.map((b) => (
              <li key={b.line} className="wrong">
                Line {b.line}
                {b.name && `, ${b.name}`}: {b.reasons.join("; ")}
              </li>
            ))}
          </ul>
          {table.good.length > 0 ? (
            <Button size="sm" disabled={take.isPending} onClick={() => take.mutate(table)}>
              Put {table.good.length === 1 ? "this product" : `these ${table.good.length} products`} on the shelf
            </Button>
          ) : (
            <p className="facts">No line of it is a product.</p>
          )}
        </div>
      )}
    </details>
  );
}

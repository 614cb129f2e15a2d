// The boards laid on a piece, what each costs, and what is left when they are
// cut out.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link } from "react-router";
import { api, say, unwrap, type Offcut, type Piece, type Wood } from "../api/client";
import { Tick } from "../kit/fields";
import { LevelMark } from "../kit/verdicts";
import { useWorkshop } from "../kit/workshop";

interface Props {
  piece: Piece;
  wood: Wood;
  version: () => number;
  ready: boolean;
}

export function OnIt({ piece, wood, version, ready }: Props) {
  const { value, words } = useWorkshop();
  return (
    <>
      <h2>Boards laid on it</h2>
      {wood.boards.length === 0 && <p className="facts">None yet.</p>}
      <ul className="on-it">
        {wood.boards.map((b) => (
          <li key={b.id}>
            <Link to={`/boards/${b.id}`}>{b.name}</Link>
            <LevelMark level={b.level} />
            {b.worst && <span className="facts">{words(b.worst)}</span>}
            {b.cents > 0 && <span className="facts">Wood {value(b.cents, "cents")}, waste included</span>}
          </li>
        ))}
      </ul>
      {piece.cut ? (
        <CutUp piece={piece} />
      ) : (
        piece.boards.length > 0 && <Leftovers piece={piece} version={version} ready={ready} />
      )}
    </>
  );
}

/** Leftovers shows what the cuts leave and, when they are done, puts it on the rack. */
function Leftovers({ piece, version, ready }: Omit<Props, "wood">) {
  const { length, value } = useWorkshop();
  const client = useQueryClient();
  const path = { id: piece.id };
  const left = useQuery({
    queryKey: ["leftovers", piece.id, version()],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}/leftovers", { params: { path } })),
    gcTime: 0,
    staleTime: 0,
  });
  const [changed, setChanged] = useState<Record<number, boolean>>({});
  const kept = (left.data ?? []).map((o, i) => ({ o, i, keep: changed[i] ?? o.keep }));
  const cut = useMutation({
    mutationFn: () =>
      unwrap(
        api.POST("/api/pieces/{id}/cut", {
          params: { path },
          body: { version: version(), how: kept.filter((k) => k.keep).map((k) => k.i) },
        }),
      ),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void client.invalidateQueries({ queryKey: ["piece", piece.id] });
    },
  });
  const sized = (o: Offcut) => `${length(Math.round(o.length))} × ${length(Math.round(o.width))}`;
  const waste = kept.filter((k) => !k.keep).reduce((sum, k) => sum + k.o.area, 0);
  return (
    <>
      <h3>What the cuts leave</h3>
      <p className="facts">
        Between the cross-cuts and about the outlines, kerfs taken off. Tick what is worth keeping.
      </p>
      <ul className="leftovers">
        {kept
          .filter((k) => k.keep || k.o.area > 900)
          .map(({ o, i, keep }) => (
            <li key={i}>
              <OffcutShape path={o.path} keep={keep} />
              <Tick
                label={`${sized(o)}, ${value(o.area / 100, "cm²")}`}
                value={keep}
                onChange={(v) => setChanged((now) => ({ ...now, [i]: v }))}
              />
            </li>
          ))}
      </ul>
      <p className="facts">{value(waste / 100, "cm²")} go to the stove and the dust bag.</p>
      {cut.error && (
        <p className="wrong" role="alert">
          {say(cut.error)}
        </p>
      )}
      <Button size="sm" disabled={!ready || cut.isPending || !left.data} onClick={() => cut.mutate()}>
        The boards are cut: put the offcuts on the rack
      </Button>
    </>
  );
}

function OffcutShape({ path, keep }: { path: string; keep: boolean }) {
  const numbers = path
    .slice(1, -1)
    .split("L")
    .map((p) => p.split(" ").map(Number));
  const xs = numbers.map((p) => p[0]);
  const ys = numbers.map((p) => p[1]);
  const [x0, x1, y0, y1] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
  return (
    <svg
      className={keep ? "kept" : "burnt"}
      viewBox={`${x0 - 2} ${-y1 - 2} ${x1 - x0 + 4} ${y1 - y0 + 4}`}
      aria-hidden="true"
    >
      <path d={path} transform="scale(1 -1)" />
    </svg>
  );
}

function CutUp({ piece }: { piece: Piece }) {
  const client = useQueryClient();
  const whole = useMutation({
    mutationFn: () => unwrap(api.POST("/api/pieces/{id}/whole", { params: { path: { id: piece.id } } })),
    onSuccess: () => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void client.invalidateQueries({ queryKey: ["piece", piece.id] });
    },
  });
  return (
    <>
      <h3>Cut up</h3>
      <p className="facts">It is off the rack.{piece.parts.length > 0 ? " It became:" : ""}</p>
      <ul>
        {piece.parts.map((p) => (
          <li key={p.id}>
            <Link to={`/timber/${p.id}`}>{p.name}</Link>
          </li>
        ))}
      </ul>
      <Button size="sm" variant="outline-secondary" disabled={whole.isPending} onClick={() => whole.mutate()}>
        Put it back on the rack
      </Button>
      <p className="facts">Its parts stay until you move them to the offcut bin.</p>
    </>
  );
}

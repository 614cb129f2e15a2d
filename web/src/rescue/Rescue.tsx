// Something went wrong on a board: what, and the ways out.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState, useSyncExternalStore } from "react";
import Button from "react-bootstrap/Button";
import { Link, useParams, useSearchParams } from "react-router";
import { api, unwrap, type RescueSheet, type WayOut } from "../api/client";
import { usePresses } from "../bench/kept";
import { useArrived } from "../kit/arrived";
import { Away } from "../kit/away";
import { Wrong } from "../kit/parts";
import { useTitle } from "../kit/title";
import { useWorkshop } from "../kit/workshop";
import { HurtDrawing } from "./HurtDrawing";
import { KindPicture, Tell } from "./Tell";
import { useWays } from "./useWays";
import { WaysOut, type Judge } from "./WaysOut";

export default function RescuePlace() {
  const { id = "" } = useParams();
  const sheet = useQuery({
    queryKey: ["rescue", id],
    queryFn: () => unwrap(api.GET("/api/boards/{id}/rescue", { params: { path: { id } } })),
    gcTime: 0,
  });
  const arrived = useArrived(sheet);
  if (!arrived) return <Away of={sheet} />;
  return <Rescue sheet={arrived} again={() => sheet.refetch()} />;
}

function Rescue({ sheet, again }: { sheet: RescueSheet; again: () => Promise<unknown> }) {
  const { words } = useWorkshop();
  const [query] = useSearchParams();
  const presses = usePresses();
  const [more, setMore] = useState(false);
  const step = query.get("step") ?? sheet.next;
  useTitle(`${sheet.board.name}, something went wrong`, 1);
  const known = sheet.steps.some((s) => s.key === step) ? step : sheet.next || (sheet.steps.at(-1)?.key ?? "");
  const m = sheet.mishap;
  useSyncExternalStore(presses.subscribe, presses.changes);
  const waits = presses.waiting().some((p) => p.board === sheet.board.id && p.note?.mishap);
  return (
    <div className="sheet-page rescue">
      <header className="page-head">
        <Link to="/bench" className="back">
          Bench
        </Link>
        <h1>{sheet.board.name}</h1>
        <Link to={`/boards/${sheet.board.id}?stage=shape`}>Its sheet</Link>
      </header>
      {waits && (
        <p className="kept" role="status">
          What you told is kept on this device, and sent when the server is back. The ways out are reckoned then.
        </p>
      )}
      {m && !more && (sheet.fresh ? <Decide sheet={sheet} /> : <Decided sheet={sheet} onMore={() => setMore(true)} />)}
      {(!m || more) && !waits && sheet.steps.length > 0 && (
        <Tell
          sheet={sheet}
          step={known}
          onTold={async () => {
            await again();
            setMore(false);
          }}
        />
      )}
      {(!m || more) && sheet.steps.length === 0 && <p className="empty">{words("Nothing is left to do on it.")}</p>}
      <p className="facts">
        <Link to="/logbook/practice">Practise on boards that are made up</Link>
      </p>
    </div>
  );
}

/** Decide shows the ways out of a mishap that waits for a decision. */
function Decide({ sheet }: { sheet: RescueSheet }) {
  const client = useQueryClient();
  const { time, words } = useWorkshop();
  const m = sheet.mishap!;
  const found = useWays(`/api/boards/${sheet.board.id}/ways`);
  const path = { id: sheet.board.id };
  const take = useMutation({
    mutationFn: (way: WayOut) =>
      unwrap(api.POST("/api/boards/{id}/rescue", { params: { path }, body: { mishap: m.id, way: way.key } })),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <>
      <p className="mishap-told">
        <KindPicture of={m.kind.key} />
        <span>
          <strong>{m.kind.name}</strong>, {time(m.at)}. {words(m.kind.next)} Nothing is forced: it stays as it is until
          you decide.
        </span>
      </p>
      <Wrong error={take.error} />
      <WaysOut
        of={sheet}
        found={found}
        whom={sheet.whom as Judge}
        take="Take this way"
        pending={take.isPending}
        onTake={(w) => take.mutate(w)}
      />
    </>
  );
}

/** Decided tells which way was taken, and takes it back. */
function Decided({ sheet, onMore }: { sheet: RescueSheet; onMore: () => void }) {
  const client = useQueryClient();
  const { time, value, words } = useWorkshop();
  const m = sheet.mishap!;
  const out = m.out!;
  const path = { id: sheet.board.id };
  const back = useMutation({
    mutationFn: () => unwrap(api.POST("/api/boards/{id}/rescue/back", { params: { path }, body: { mishap: m.id } })),
    onSuccess: () => client.invalidateQueries(),
  });
  return (
    <section className="mishap-decided" aria-labelledby="taken">
      <HurtDrawing of={sheet} label="The board as it is made now" />
      <div>
        <h2 id="taken">{words(out.label)}</h2>
        <p>
          {m.kind.name}, {time(m.at)}. Taken {time(out.at)}:{" "}
          {out.days > 0.05 ? words(`{${Math.round(out.days * 10) / 10} d} later`) : "no day later"}
          {out.cents !== 0 && `, ${value(Math.abs(out.cents), "cents")} ${out.cents > 0 ? "more" : "less"}`}. It is the
          plan now.
        </p>
        {out.way === "begin" && out.other && (
          <Link to={`/boards/${out.other}?stage=layout`}>The board begun again</Link>
        )}
        {out.way === "spare" && out.other && <Link to={`/boards/${out.other}?stage=give`}>The board in its place</Link>}
        <p className="facts">To keep it from happening: {words(m.kind.before)}</p>
        <Wrong error={back.error} />
        <Button variant="outline-primary" disabled={back.isPending} onClick={() => back.mutate()}>
          Take it back, decide again
        </Button>{" "}
        <Button variant="link" onClick={onMore}>
          Something else went wrong
        </Button>
      </div>
    </section>
  );
}

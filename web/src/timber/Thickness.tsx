// How thick a piece is, what flattening leaves of it and costs, and how it may
// be resawn.
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { useNavigate } from "react-router";
import { api, unwrap, type Slab, type Wood } from "../api/client";
import { type Edit } from "../kit/document/useDocument";
import { cut, put } from "../kit/items";
import { Choice, LengthField, NumberField, RemoveButton, Row, Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";

interface Props {
  slab: Slab;
  wood: Wood;
  set: Edit<Slab>;
}

export function Thickness({ slab: s, wood, set }: Props) {
  return (
    <>
      <h2>Thickness</h2>
      <p className="facts">Readings are dragged on the wood to where they were taken.</p>
      {s.readings.map((r, i) => (
        <Row key={i}>
          <LengthField
            label="From the butt"
            hideLabel={i > 0}
            mm={r.x}
            onChange={(x) => set((now) => ({ readings: put(now.readings, i, { x }) }), `reading-${i}`)}
          />
          <LengthField
            label="Off the line"
            hideLabel={i > 0}
            signed
            mm={r.y}
            onChange={(y) => set((now) => ({ readings: put(now.readings, i, { y }) }), `reading-${i}`)}
          />
          <LengthField
            label="Thick"
            hideLabel={i > 0}
            of="piece.readings.thickness"
            mm={r.thickness}
            onChange={(thickness) => set((now) => ({ readings: put(now.readings, i, { thickness }) }), `reading-${i}`)}
          />
          <RemoveButton
            what={`reading ${i + 1}`}
            disabled={s.readings.length < 2}
            onClick={() => set((now) => ({ readings: cut(now.readings, i) }))}
          />
        </Row>
      ))}
      <Button
        size="sm"
        variant="outline-primary"
        onClick={() =>
          set((now) => ({
            readings: [
              ...now.readings,
              { x: Math.round(now.length / 2), y: 0, thickness: now.readings.at(-1)?.thickness ?? 30 },
            ],
          }))
        }
      >
        Add a reading
      </Button>
      <Choice
        label="It may stay"
        value={s.uneven ? "uneven" : "even"}
        options={[
          { value: "even", label: "even: it is flattened" },
          { value: "uneven", label: "uneven: it is only sanded" },
        ]}
        onChange={(v) => set({ uneven: v === "uneven" })}
      />
      <h3>Hollow and wind</h3>
      <p className="facts">
        Hollow under a straightedge; wind is the lift of the fourth corner. The greater of both faces counts, once.
        Leave at 0 what the readings hold already.
      </p>
      <Row>
        <LengthField
          label="Hollow, show face"
          of="piece.hollow"
          mm={s.hollow}
          onChange={(hollow) => set({ hollow }, "hollow")}
        />
        <LengthField
          label="Wind, show face up"
          of="piece.wind"
          mm={s.wind}
          onChange={(wind) => set({ wind }, "wind")}
        />
      </Row>
      <Row>
        <LengthField
          label="Hollow, under face"
          of="piece.underHollow"
          mm={s.underHollow ?? 0}
          onChange={(underHollow) => set({ underHollow }, "under-hollow")}
        />
        <LengthField
          label="Wind, under face up"
          of="piece.underWind"
          mm={s.underWind ?? 0}
          onChange={(underWind) => set({ underWind }, "under-wind")}
        />
      </Row>
      <Tick
        label="Wind is planed off one side, not shimmed"
        value={s.unshimmed}
        onChange={(unshimmed) => set({ unshimmed })}
      />
      {!s.uneven && <Flats wood={wood} />}
    </>
  );
}

/** Flats compares flattening the whole with cutting blanks first. */
function Flats({ wood }: { wood: Wood }) {
  const { length, value } = useWorkshop();
  return (
    <>
      <h3>Flatten it whole, or cut blanks first</h3>
      <table className="rungs">
        <thead>
          <tr>
            <th />
            <th>leaves</th>
            <th>minutes</th>
            <th>shavings</th>
          </tr>
        </thead>
        <tbody>
          {wood.flats.map((f) => (
            <tr key={f.name}>
              <th scope="row">{f.name}</th>
              <td>{length(f.flat)}</td>
              <td>{Math.round(f.minutes)}</td>
              <td>{value(f.shavings, "l")}</td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="facts">
        Hollow goes with the square of the width, wind with length times width: a blank cut first loses less.
      </p>
    </>
  );
}

interface ResawProps extends Props {
  id: string;
  version: () => number;
  ready: boolean;
}

/** Resaw plans leaves and makes them pieces of the rack. */
export function Resaw({ id, slab, wood, version, ready }: ResawProps) {
  const { length, tables, shop } = useWorkshop();
  const rule = (key: string) => shop.rules[key] ?? tables.rules.find((r) => r.key === key)?.usual ?? 1.5;
  const [leaves, setLeaves] = useState(2);
  const [kerf, setKerf] = useState(rule("resaw-kerf"));
  const [cleanup, setCleanup] = useState(rule("resaw-clean"));
  const [matched, setMatched] = useState(true);
  const client = useQueryClient();
  const navigate = useNavigate();
  const press = useTyped(() =>
    unwrap(
      api.POST("/api/pieces/{id}/resaw", {
        params: { path: { id } },
        body: { version: version(), how: { leaves, kerf, cleanup, matched } },
      }),
    ),
  );
  const saw = useMutation({
    mutationFn: press,
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void client.invalidateQueries({ queryKey: ["piece", id] });
      void navigate(`/timber/${made.pieces[0]}`);
    },
  });
  return (
    <>
      <h2>Resaw it</h2>
      {wood.leaves.length === 0 ? (
        <p className="facts">Flattened, it is too thin for two leaves.</p>
      ) : (
        <p className="facts">
          By your shop&apos;s kerf and clean-up:{" "}
          {wood.leaves.map((l) => `${l.leaves} leaves of ${length(l.thickness)}`).join(", ")}. Inner wood is often
          damper: let the leaves rest and read them again.
        </p>
      )}
      <Row>
        <NumberField label="Leaves" whole of="resawing.leaves" value={leaves} onChange={setLeaves} />
        <LengthField label="Kerf" of="resawing.kerf" mm={kerf} onChange={setKerf} />
        <LengthField label="Clean-up, a face" of="resawing.cleanup" mm={cleanup} onChange={setCleanup} />
      </Row>
      <Tick label="Book-matched: neighbours show the two faces of one cut" value={matched} onChange={setMatched} />
      <p className="caution">
        A tall fence and a sharp, wide blade; hands well off the line, a push block at the end. A damp or stressed piece
        closes on the blade: stop and wedge it open.
      </p>
      <Wrong error={saw.error} />
      <Button size="sm" disabled={!ready || saw.isPending} onClick={() => saw.mutate()}>
        It is sawn: put the leaves on the rack
      </Button>
      <p className="facts">{slab.name} itself then goes off the rack; you can put it back.</p>
    </>
  );
}

// A new piece: a slab to be measured, a plank by its size, or a shop board by
// the size that it is sold by.
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Modal from "react-bootstrap/Modal";
import { api, unwrap } from "../api/client";
import { Choice, LengthField, Row, TextField, Tick } from "../kit/fields";
import { Wrong } from "../kit/parts";
import { useTyped } from "../kit/readings";
import { useWorkshop } from "../kit/workshop";

type Kind = "slab" | "plank" | "nominal" | "panel" | "sheet";

export function NewPiece({
  show,
  onHide,
  onMade,
}: {
  show: boolean;
  onHide: () => void;
  onMade: (id: string) => void;
}) {
  const { tables, shop } = useWorkshop();
  const [kind, setKind] = useState<Kind>("slab");
  const [name, setName] = useState("");
  const [species, setSpecies] = useState("");
  const [size, setSize] = useState({ length: 600, width: 200, thickness: 30 });
  const [nominal, setNominal] = useState("1×8");
  const [reclaimed, setReclaimed] = useState(false);
  const dressed = tables.nominal.find((n) => n.name === nominal);
  const real =
    kind === "nominal" && dressed
      ? { length: size.length, width: dressed.width || size.width, thickness: dressed.thickness }
      : size;
  const press = useTyped(() =>
    unwrap(
      api.POST("/api/pieces/sized", {
        body: {
          name: name.trim() || "New piece",
          species,
          stock: kind === "nominal" ? "plank" : kind,
          ...real,
          reclaimed,
        },
      }),
    ),
  );
  const add = useMutation({
    mutationFn: press,
    onSuccess: (p) => {
      setName("");
      onMade(p.id);
    },
  });
  const part = (p: Partial<typeof size>) => setSize((now) => ({ ...now, ...p }));
  return (
    <Modal show={show} onHide={onHide} aria-labelledby="new-piece">
      <Modal.Header closeButton>
        <Modal.Title id="new-piece" as="h2">
          Add a piece
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        <TextField label="Name of the piece" value={name} onChange={setName} />
        <TextField
          label="Species of the piece"
          value={species}
          placeholder="choose it, or Unknown wood"
          list={[...(shop.species ?? []).map((s) => s.name), ...tables.species.map((s) => s.name)]}
          onChange={setSpecies}
        />
        <Choice
          label="It is"
          value={kind}
          options={[
            { value: "slab", label: "a slab with natural edges" },
            { value: "plank", label: "a plain plank" },
            { value: "nominal", label: "a shop board, by the size it is sold by" },
            { value: "panel", label: "a glued panel of solid wood" },
            { value: "sheet", label: "sheet stock: plywood, veneered board" },
          ]}
          onChange={setKind}
        />
        {kind === "nominal" && <SoldAs nominal={nominal} onChange={setNominal} />}
        <Row>
          <LengthField
            label="Length of the piece"
            of="size.length"
            mm={size.length}
            onChange={(v) => part({ length: v })}
          />
          {!(kind === "nominal" && dressed?.width) && (
            <LengthField
              label={kind === "slab" ? "Width in the middle" : "Width of the piece"}
              of="size.width"
              mm={size.width}
              onChange={(v) => part({ width: v })}
            />
          )}
          {kind !== "nominal" && (
            <LengthField
              label="Thickness of the piece"
              of="size.thickness"
              mm={size.thickness}
              onChange={(v) => part({ thickness: v })}
            />
          )}
        </Row>
        <Tick label="Reclaimed, its treatment unknown" value={reclaimed} onChange={setReclaimed} />
        {reclaimed && (
          <p className="caution">
            Lead paint, preservatives, nails: test it, and when in doubt keep it off food. Mark old holes as flaws;
            profiled edges are ripped off under Edges.
          </p>
        )}
        <Wrong error={add.error} />
      </Modal.Body>
      <Modal.Footer>
        <Button variant="outline-secondary" onClick={onHide}>
          Not now
        </Button>
        <Button disabled={add.isPending} onClick={() => add.mutate()}>
          Put it on the rack
        </Button>
      </Modal.Footer>
    </Modal>
  );
}

/** SoldAs is the size that a shop board is sold by, and what it really measures. */
function SoldAs({ nominal, onChange }: { nominal: string; onChange: (name: string) => void }) {
  const { tables, length } = useWorkshop();
  const dressed = tables.nominal.find((n) => n.name === nominal);
  return (
    <>
      <Choice label="Sold as" value={nominal} options={tables.nominal.map((n) => n.name)} onChange={onChange} />
      {dressed && (
        <p className="facts">
          Really {length(dressed.thickness)} thick{dressed.width > 0 && `, ${length(dressed.width)} wide`}.
        </p>
      )}
    </>
  );
}

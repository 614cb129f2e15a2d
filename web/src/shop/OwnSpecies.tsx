// Species that the table lacks, with the numbers that the maker knows.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { Species } from "../api/client";
import { cut, put } from "../kit/items";
import { Choice, ColourField, NumberField, RemoveButton, Row, TextField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";

export function OwnSpecies({ list, onChange }: { list: Species[]; onChange: (list: Species[]) => void }) {
  const { tables, value } = useWorkshop();
  const [like, setLike] = useState("European ash");
  const [open, setOpen] = useState(-1);
  const known = tables.species.map((s) => s.name);
  const add = () => {
    const base = tables.species.find((s) => s.name === like) ?? tables.species[0];
    let name = `${base.name}, my own`;
    for (let n = 2; list.some((s) => s.name === name); n++) name = `${base.name}, my own ${n}`;
    onChange([...list, { ...base, name }]);
    setOpen(list.length);
  };
  return (
    <>
      {list.length === 0 && (
        <p className="facts">Wood that the table lacks: begin with one that is like it, then set what you know.</p>
      )}
      {list.map((s, i) => {
        const part = (p: Partial<Species>) => onChange(put(list, i, p));
        return (
          <div key={i} className="flaw-card">
            <div className="d-flex align-items-center">
              <button
                type="button"
                className="flaw-head"
                aria-expanded={open === i}
                onClick={() => setOpen(open === i ? -1 : i)}
              >
                {s.name}
                <span className="facts">{value(s.density, "kg/m³")}</span>
              </button>
              <RemoveButton what={s.name} onClick={() => onChange(cut(list, i))} />
            </div>
            {open === i && <SpeciesFields s={s} part={part} />}
          </div>
        );
      })}
      <Row>
        <TextField label="Like" value={like} list={known} onChange={setLike} />
        <Button size="sm" variant="outline-primary" className="align-self-end mb-1" onClick={add}>
          Add a species
        </Button>
      </Row>
    </>
  );
}

interface FieldsProps {
  s: Species;
  part: (p: Partial<Species>) => void;
}

/** SpeciesFields are the numbers of a species. */
function SpeciesFields({ s, part }: FieldsProps) {
  return (
    <div className="flaw-fields">
      <Row>
        <TextField label="Species name" value={s.name} onChange={(name) => part({ name })} />
        <TextField label="Botanical name" value={s.botanical} onChange={(botanical) => part({ botanical })} />
      </Row>
      <Row>
        <Choice
          label="Group"
          value={s.group}
          options={["hardwood", "softwood"]}
          onChange={(group) => part({ group })}
        />
        <Choice
          label="Pores"
          value={s.pores}
          options={["closed", "semi-ring", "ring", "open", "none"]}
          onChange={(pores) => part({ pores })}
        />
        <Choice
          label="Food"
          value={s.food}
          options={["suitable", "caution", "never"]}
          onChange={(food) => part({ food })}
        />
      </Row>
      <Row>
        <NumberField
          label="Density"
          unit="kg/m³"
          of="shop.species.density"
          value={s.density}
          onChange={(density) => part({ density })}
        />
        <NumberField
          label="Janka hardness"
          unit="N"
          of="shop.species.janka"
          value={s.janka}
          onChange={(janka) => part({ janka })}
        />
      </Row>
      <Row>
        <NumberField
          label="Bending strength"
          unit="MPa"
          of="shop.species.mor"
          value={s.mor}
          onChange={(mor) => part({ mor })}
        />
        <NumberField
          label="Tension across"
          unit="MPa"
          of="shop.species.tensionPerp"
          value={s.tensionPerp}
          step={0.1}
          onChange={(tensionPerp) => part({ tensionPerp })}
        />
      </Row>
      <Row>
        <NumberField
          label="Moves tangentially"
          unit="% a point"
          of="shop.species.ct"
          per={0.01}
          value={s.ct * 100}
          step={0.01}
          onChange={(v) => part({ ct: v / 100 })}
        />
        <NumberField
          label="Moves radially"
          unit="% a point"
          of="shop.species.cr"
          per={0.01}
          value={s.cr * 100}
          step={0.01}
          onChange={(v) => part({ cr: v / 100 })}
        />
      </Row>
      <Row>
        <Choice
          label="Dust"
          value={s.dust}
          options={["ordinary", "irritant", "sensitiser", "toxic"]}
          onChange={(dust) => part({ dust })}
        />
        <TextField label="Changes colour" value={s.colourChange} onChange={(colourChange) => part({ colourChange })} />
      </Row>
      <Colours s={s} part={part} />
      <TextField label="Edges and other notes" value={s.note} onChange={(note) => part({ note })} />
    </div>
  );
}

/** Colours are those that it is drawn in. */
function Colours({ s, part }: FieldsProps) {
  return (
    <Row>
      <ColourField label="Lighter colour" value={s.light} onChange={(light) => part({ light })} />
      <ColourField label="Darker colour" value={s.dark} onChange={(dark) => part({ dark })} />
    </Row>
  );
}

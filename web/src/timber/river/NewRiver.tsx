// A river is begun: from one piece, ripped along its middle, or from two that face each other.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { Link, useNavigate, useParams } from "react-router";
import { named, newName } from "../../api/asking";
import { api, say, unwrap } from "../../api/client";
import { useArrived } from "../../kit/arrived";
import { Away } from "../../kit/away";
import { Choice, TextField, wordsOf } from "../../kit/fields";
import { useTitle } from "../../kit/title";
import { useWorkshop } from "../../kit/workshop";

/** straight is the choice that no second bank faces the first: the wall does. */
const straight = "straight";

export default function NewRiver() {
  const { id = "" } = useParams();
  const { tables } = useWorkshop();
  const client = useQueryClient();
  const navigate = useNavigate();
  const piece = useQuery({
    queryKey: ["piece", id],
    queryFn: () => unwrap(api.GET("/api/pieces/{id}", { params: { path: { id } } })),
  });
  const rack = useQuery({ queryKey: ["pieces", "for a river"], queryFn: () => unwrap(api.GET("/api/pieces")) });
  const arrived = useArrived(piece);
  const [other, setOther] = useState("");
  const [resin, setResin] = useState("deep pour");
  const [typed, setTyped] = useState<string | null>(null);
  const [once] = useState(newName);
  useTitle("A river", 1);
  const make = useMutation({
    mutationFn: (name: string) =>
      unwrap(
        api.POST("/api/rivers", {
          ...named(once),
          body: {
            name,
            resin: resin as never,
            pieces: other && other !== straight ? [id, other] : [id],
            straight: other === straight || undefined,
          },
        }),
      ),
    onSuccess: (made) => {
      void client.invalidateQueries({ queryKey: ["pieces"] });
      void navigate(`/timber/${made.id}`);
    },
  });
  if (!arrived) return <Away of={piece} />;
  const name = typed ?? `River of ${arrived.slab.name}`;
  const others = (rack.data?.items ?? []).filter((p) => p.id !== id && p.stock !== "sheet" && p.stock !== "panel");
  return (
    <div className="sheet-page">
      <header className="page-head">
        <Link to={`/timber/${id}`} className="back">
          {arrived.slab.name}
        </Link>
        <h1>A river</h1>
      </header>
      <form
        className="new-river"
        onSubmit={(e) => {
          e.preventDefault();
          make.mutate(name.trim());
        }}
      >
        <TextField label="Name" value={name} onChange={setTyped} />
        <Choice
          label="Its banks"
          value={other}
          options={[
            { value: "", label: `${arrived.slab.name}, ripped along its middle` },
            { value: straight, label: `${arrived.slab.name}, its live edge completed to a straight side` },
            ...others.map((p) => ({ value: p.id, label: `${arrived.slab.name} and ${p.name}` })),
          ]}
          onChange={setOther}
        />
        <Choice label="Resin" value={resin} options={wordsOf(tables.resins) as never[]} onChange={setResin} />
        <p className="facts">
          Live edges are laid face to face in a mould, or along its wall; drag and turn them there.
        </p>
        {make.error && (
          <p className="wrong" role="alert">
            {say(make.error)}
          </p>
        )}
        <Button type="submit" disabled={make.isPending || name.trim() === ""}>
          Lay them in a mould
        </Button>
      </form>
    </div>
  );
}

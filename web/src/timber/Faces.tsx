// Which face is shown: how each looked when it was wetted, and the choice.
import { useMutation } from "@tanstack/react-query";
import Button from "react-bootstrap/Button";
import { say, type Look, type Slab } from "../api/client";
import type { Edit } from "../kit/document/useDocument";
import { Choice, TextField, Tick } from "../kit/fields";
import { FilePick, send } from "../kit/files";

interface Props {
  slab: Slab;
  set: Edit<Slab>;
  turning: boolean;
  onTurn: () => void;
}

export function Faces({ slab: s, set, turning, onTurn }: Props) {
  return (
    <>
      <h2>Both faces</h2>
      <p className="facts">
        Wet each face with water or spirits and look before you choose. Spirits flash off quickly: no flame near, and
        air the room.
      </p>
      <FaceLook title="Show face" look={s.showLook} onChange={(showLook) => set((now) => better({ showLook }, now))} />
      <FaceLook
        title="Under face"
        look={s.underLook}
        onChange={(underLook) => set((now) => better({ underLook }, now))}
      />
      <Tick
        label="The show face is chosen and marked on the wood"
        value={s.showChosen ?? false}
        onChange={(showChosen) => set({ showChosen })}
      />
      <Button size="sm" variant="outline-primary" disabled={turning} onClick={onTurn}>
        Make the under face the show face
      </Button>
      <p className="facts">Edges, flaws, readings and the boards laid on it turn over with it.</p>
    </>
  );
}

/** better keeps at most one face marked as the better one. */
function better(change: { showLook?: Look; underLook?: Look }, now: Slab): Partial<Slab> {
  if (change.showLook?.better && now.underLook?.better)
    return { ...change, underLook: { ...now.underLook, better: false } };
  if (change.underLook?.better && now.showLook?.better)
    return { ...change, showLook: { ...now.showLook, better: false } };
  return change;
}

function FaceLook({ title, look, onChange }: { title: string; look?: Look; onChange: (l: Look) => void }) {
  const l: Look = look ?? {};
  const keep = useMutation({
    mutationFn: (file: File) => send<{ id: string }>("/api/pictures", file),
    onSuccess: (p) => onChange({ ...l, picture: p.id }),
  });
  return (
    <fieldset className="face-look">
      <legend>
        {title}
        {l.better && <span className="better"> the better one</span>}
      </legend>
      <div className="d-flex gap-2">
        <div className="flex-grow-1">
          <Choice
            label={`${title}, wetted with`}
            value={l.wetted ?? "dry"}
            options={[{ value: "dry", label: "nothing yet" }, "water", "spirits"]}
            onChange={(wetted) => onChange({ ...l, wetted })}
          />
          <TextField
            label={`${title}, how it looked`}
            rows={2}
            value={l.note ?? ""}
            onChange={(note) => onChange({ ...l, note })}
          />
        </div>
        {l.picture && <img src={`/api/pictures/${l.picture}`} alt={`${title} as it looked`} />}
      </div>
      <div className="d-flex gap-3 align-items-center flex-wrap">
        <Tick label="It looked the better" value={l.better ?? false} onChange={(v) => onChange({ ...l, better: v })} />
        <FilePick
          label={l.picture ? "Another picture" : "Add a picture"}
          accept="image/png,image/jpeg"
          busy={keep.isPending}
          onFile={(f) => keep.mutate(f)}
        />
      </div>
      {keep.error && <p className="wrong">{say(keep.error)}</p>}
    </fieldset>
  );
}

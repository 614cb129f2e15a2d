// At the sander, at the wet board and at a coat: what is read, marked and seen there.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { BenchBoard } from "../api/client";
import { LengthField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";
import { Amount, BoardPicture, TakeBack, type AtStep } from "./parts";

/** AtSander is what a step of sanding or wetting asks for, beside that it begins and ends. */
export function AtSander(props: AtStep) {
  const { board, step } = props;
  const at = board.sanding;
  if (!at || step.state === "to do") return null;
  if (step.key === at.measured) return <Corners {...props} at={at} />;
  if (step.kind === "water") return <Look {...props} at={at} />;
  return null;
}

type Sanding = NonNullable<BenchBoard["sanding"]>;

/** Corners takes the thickness at the four corners, one after the other. */
function Corners({ board, step, note, pending, at }: AtStep & { at: Sanding }) {
  const { tables, length } = useWorkshop();
  const next = at.read.length % tables.corners.length;
  const [mm, setMm] = useState(at.read.at(-1) ?? 20);
  return (
    <div className="pour-card">
      <p>The thickness at the four corners tells whether the passes were even:</p>
      <BoardPicture
        board={board}
        plain
        spots={at.corners.map((p, i) => ({ at: p, text: String(i + 1), active: i === next }))}
      />
      {at.read.length > 0 && (
        <ul className="plain-list facts">
          {at.read.map((t, i) => (
            <li key={i}>
              {tables.corners[i]}: {length(t)}
            </li>
          ))}
        </ul>
      )}
      <form
        className="pour-by-hand"
        onSubmit={(e) => {
          e.preventDefault();
          void note(step.key, { what: "thick", value: mm });
        }}
      >
        <LengthField label={`Thickness, ${tables.corners[next]}`} least={1} most={300} mm={mm} onChange={setMm} />
        <Button type="submit" disabled={pending}>
          Write it down
        </Button>
      </form>
      {at.read.length > 0 && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => note(step.key, { what: "back", value: 0 })} />
        </p>
      )}
    </div>
  );
}

/** Look is the wetted board: missed scratches, the face to show, and its colour when it is back. */
function Look({ board, step, note, pending, at, kept }: AtStep & { at: Sanding }) {
  const first = step.key === at.look;
  const tell = (what: "face" | "colour" | "back", value = 0) => note(step.key, { what, value });
  const said = kept.some((p) => p.step === step.key && p.note);
  return (
    <div className="pour-card">
      {first && (
        <>
          <p>Press where a scratch shows; wet wood hides none:</p>
          <BoardPicture
            board={board}
            plain
            marks={at.scratches}
            told="A missed scratch"
            onPlace={(place) => !pending && void note(step.key, { what: "scratch", value: 0, place })}
          />
          {at.scratches.length > 0 && (
            <p className="facts" role="status">
              {at.scratches.length === 1 ? "One place is" : `${at.scratches.length} places are`} marked: go back to the
              grit before there.
            </p>
          )}
          <div className="pour-buttons" role="group" aria-label="The face to show">
            <Button
              size="sm"
              variant={at.face === "stays" ? "primary" : "outline-primary"}
              aria-pressed={at.face === "stays"}
              disabled={pending}
              onClick={() => tell("face", 0)}
            >
              The face to show stays
            </Button>
            <Button
              size="sm"
              variant={at.face === "turned" ? "primary" : "outline-primary"}
              aria-pressed={at.face === "turned"}
              disabled={pending}
              onClick={() => tell("face", 1)}
            >
              The other face is better
            </Button>
          </div>
        </>
      )}
      {step.state === "done" && (
        <Button disabled={pending} onClick={() => tell("colour")}>
          Its own colour is back
        </Button>
      )}
      {(at.scratches.length > 0 || at.face || said) && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => tell("back")} />
        </p>
      )}
    </div>
  );
}

/** AtCoat is what a coat asks for: the grams that it took, and whether the board has had enough. */
export function AtCoat({ board, step, note, pending }: AtStep) {
  const coat = board.coats?.find((c) => [c.key, c.wiped, c.buffed].includes(step.key));
  if (!coat || step.state === "to do") return null;
  const drinks = coat.product !== "coffee" && coat.product !== "tea";
  return (
    <div className="pour-card">
      {step.key === coat.key && (
        <Amount
          key={coat.used}
          label="Put on"
          unit="g"
          start={coat.used || coat.grams}
          write={coat.used ? "Write it down anew" : "Write it down"}
          quiet
          pending={pending}
          onWrite={(grams) => note(coat.key, { what: "grams", value: grams })}
        >
          {coat.used > 0 && <span className="facts">Written down: the next plan goes by it.</span>}
        </Amount>
      )}
      {drinks && (
        <div className="pour-buttons" role="group" aria-label="How does it look?">
          <Button
            variant={coat.looked === "dry" ? "primary" : "outline-primary"}
            aria-pressed={coat.looked === "dry"}
            disabled={pending}
            onClick={() => note(step.key, { what: "dry", value: 0 })}
          >
            Dry again: another coat
          </Button>
          <Button
            variant={coat.looked === "full" ? "primary" : "outline-primary"}
            aria-pressed={coat.looked === "full"}
            disabled={pending}
            onClick={() => note(step.key, { what: "full", value: 0 })}
          >
            Still wet: it has enough
          </Button>
        </div>
      )}
      {(coat.looked || coat.used > 0) && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => note(step.key, { what: "back", value: 0 })} />
        </p>
      )}
    </div>
  );
}

// At the sander, at the wet board and at a coat: what is read, marked and seen there.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import type { BenchBoard } from "../api/client";
import { NumberField } from "../kit/fields";
import { mmPerInch } from "../kit/length";
import { useWorkshop } from "../kit/workshop";
import { notesKept } from "./notes";
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
function Corners({ board, step, note, pending, at, kept }: AtStep & { at: Sanding }) {
  const { tables, length, unit } = useWorkshop();
  const waiting = notesKept(kept, step.key).length; // without a signal one goes on to the next corner
  const next = (at.next + waiting) % tables.corners.length;
  const [read, setRead] = useState(0); // as a calliper shows it; nothing is read yet
  const per = unit === "in" ? mmPerInch : 1;
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
          void note(step.key, { what: "thick", value: read * per }).then(() => setRead(0));
        }}
      >
        <NumberField
          key={next}
          label={`Thickness, ${tables.corners[next]}`}
          unit={unit}
          least={0}
          most={300 / per}
          value={read}
          onChange={setRead}
        />
        <Button type="submit" disabled={pending || read <= 0}>
          Write it down
        </Button>
      </form>
      {at.read.length + waiting > 0 && (
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
  const waiting = notesKept(kept, step.key);
  const marks = [...at.scratches, ...waiting.flatMap((n) => (n.what === "scratch" && n.place ? [n.place] : []))];
  const faced = waiting.findLast((n) => n.what === "face");
  const face = faced ? (faced.value === 1 ? "turned" : "stays") : at.face;
  return (
    <div className="pour-card">
      {first && (
        <>
          <p>Press where a scratch shows; wet wood hides none:</p>
          <BoardPicture
            board={board}
            plain
            marks={marks}
            told="A missed scratch"
            onPlace={(place) => !pending && void note(step.key, { what: "scratch", value: 0, place })}
          />
          {marks.length > 0 && (
            <p className="facts" role="status">
              {marks.length === 1 ? "One place is" : `${marks.length} places are`} marked: go back to the grit before
              there.
            </p>
          )}
          <div className="pour-buttons" role="group" aria-label="The face to show">
            <Button
              size="sm"
              variant={face === "stays" ? "primary" : "outline-primary"}
              aria-pressed={face === "stays"}
              disabled={pending}
              onClick={() => tell("face", 0)}
            >
              The face to show stays
            </Button>
            <Button
              size="sm"
              variant={face === "turned" ? "primary" : "outline-primary"}
              aria-pressed={face === "turned"}
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
      {(marks.length > 0 || face || waiting.length > 0) && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => tell("back")} />
        </p>
      )}
    </div>
  );
}

/** AtCoat is what a coat asks for: the grams that it took, and whether the board has had enough. */
export function AtCoat({ board, step, note, pending, kept }: AtStep) {
  const { tables } = useWorkshop();
  const coat = board.coats?.find((c) => [c.key, c.wiped, c.buffed].includes(step.key));
  if (!coat || step.state === "to do") return null;
  const drinks = !tables.products.find((p) => p.name === coat.product)?.water;
  const waiting = notesKept(kept, step.key);
  const looked = waiting.findLast((n) => n.what === "dry" || n.what === "full")?.what ?? coat.looked;
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
            variant={looked === "dry" ? "primary" : "outline-primary"}
            aria-pressed={looked === "dry"}
            disabled={pending}
            onClick={() => note(step.key, { what: "dry", value: 0 })}
          >
            Dry again: another coat
          </Button>
          <Button
            variant={looked === "full" ? "primary" : "outline-primary"}
            aria-pressed={looked === "full"}
            disabled={pending}
            onClick={() => note(step.key, { what: "full", value: 0 })}
          >
            Still wet: it has enough
          </Button>
        </div>
      )}
      {(looked || coat.used > 0 || waiting.length > 0) && (
        <p className="facts">
          <TakeBack disabled={pending} onClick={() => note(step.key, { what: "back", value: 0 })} />
        </p>
      )}
    </div>
  );
}

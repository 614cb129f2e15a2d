// What is glued: the panel that the board lies on, or nothing.
import { Link } from "react-router";
import { Amounts } from "../kit/parts";
import { useWorkshop } from "../kit/workshop";
import { RimFields } from "./RimFields";
import type { PanelProps } from "./panel";

export function GluePanel(props: PanelProps) {
  return (
    <>
      <FromPanel {...props} />
      <RimFields {...props} />
    </>
  );
}

/** FromPanel is the panel that the board is cut from. */
function FromPanel({ sheet, wood, board }: PanelProps) {
  const { length, value } = useWorkshop();
  const { length: long, width, thickness } = board.design;
  if (!wood.parts)
    return (
      <>
        <h2>Glue</h2>
        <p>This board is cut from one piece, so that nothing is glued.</p>
        <p>
          <Link to={`/timber/glue?length=${long}&width=${width}&thickness=${thickness}`}>Glue it up</Link> of strips
          instead: a panel of its size, on which boards are laid like on any timber.
        </p>
      </>
    );
  const p = wood.parts;
  return (
    <>
      <h2>Glue</h2>
      <p>
        It is cut from the panel <Link to={`/timber/${sheet.piece}`}>{sheet.pieceName}</Link>, which is {p.state}.
      </p>
      <Amounts
        rows={[
          ["Construction", p.construction],
          ["Strips", String(p.strips.length)],
          ["Panel", `${length(p.length)} × ${length(p.width)}`],
          ["Glue", value(Math.ceil(p.grams), "g")],
        ]}
      />
      <p>
        <Link to={`/timber/${sheet.piece}?part=clamps`}>Its clamp-up and steps</Link>
      </p>
    </>
  );
}

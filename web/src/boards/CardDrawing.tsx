// The card of a board, as it will be printed.
import { useEffect, useState, type KeyboardEvent } from "react";
import Button from "react-bootstrap/Button";
import { stageOf, useStages } from "../kit/stick";
import { useWorkshop } from "../kit/workshop";

interface Props {
  id: string;
  /** Of the board as it is stored: the card is drawn from that. */
  version: number;
  saved: boolean;
  onStage: (stage: string) => void;
  onSlab: () => void;
}

export function CardDrawing({ id, version, saved, onStage, onSlab }: Props) {
  const { switchUnits } = useWorkshop();
  const { stages } = useStages();
  const [drawn, setDrawn] = useState(version);
  useEffect(() => {
    if (saved) setDrawn(version);
  }, [saved, version]);
  const onKeyDown = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return;
    const digit = /^\d$/.test(e.key) && stageOf(stages, e.key);
    if (digit) onStage(digit);
    else if (e.key === "u") switchUnits();
    else return;
    e.preventDefault();
  };
  const picture = (kind: string) => `/api/boards/${id}/card.png?kind=${kind}&plain=true&v=${drawn}`;
  return (
    <div className="drawing-frame">
      <div className="drawing-tools">
        <Button size="sm" variant="outline-primary" onClick={onSlab}>
          On the slab
        </Button>
        <span className="facts">Printed, it bears the code of its care page besides.</span>
      </div>
      <div
        className="flatten-views card-views"
        tabIndex={0}
        role="group"
        aria-label="Its card and its tag. Digits choose a stage."
        onKeyDown={onKeyDown}
      >
        <img src={picture("flat")} alt="The card, all on one side" />
        <img src={picture("tag")} alt="The tag" />
      </div>
    </div>
  );
}

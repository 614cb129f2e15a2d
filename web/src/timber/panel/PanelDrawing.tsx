// A panel as its strips are worked on: as it comes out, or as it is first glued and cut.
import { useMemo, type KeyboardEvent, type PointerEvent, type ReactNode } from "react";
import Button from "react-bootstrap/Button";
import ButtonGroup from "react-bootstrap/ButtonGroup";
import type { OfParts, Panel, Wood } from "../../api/client";
import { WoodDrawing, type View } from "../../kit/drawing";
import { StripLayer } from "./StripLayer";

const keys =
  "[ and ] pick a strip, the up and down arrows lay it elsewhere, t turns it end for end, r rolls it, d doubles it.";

/** What is drawn of a panel that is cut again. */
export type Stage = "stripes" | "cut" | "whole";

const names: Record<Stage, string> = { stripes: "Stripes", cut: "Cut", whole: "Glued again" };

export function Stages({ stage, onStage }: { stage: Stage; onStage: (s: Stage) => void }) {
  return (
    <ButtonGroup size="sm" aria-label="Drawn">
      {(Object.keys(names) as Stage[]).map((s) => (
        <Button
          key={s}
          size="sm"
          variant={s === stage ? "primary" : "outline-primary"}
          aria-pressed={s === stage}
          onClick={() => onStage(s)}
        >
          {names[s]}
        </Button>
      ))}
    </ButtonGroup>
  );
}

/** whole tells whether strips are drawn whole, so that they may be dragged. */
export const whole = (parts: OfParts, stage: Stage): boolean => stage !== "whole" || !parts.again;

interface Props {
  name: string;
  panel: Panel;
  wood: Wood;
  parts: OfParts;
  stage: Stage;
  flipped: boolean;
  picked: string;
  oiled: boolean;
  on: {
    onKeyDown: (e: KeyboardEvent<SVGSVGElement>) => void;
    pointer: () => Record<string, (e: PointerEvent<SVGSVGElement>) => void>;
  };
  /** Drawn over the panel as it comes out. */
  children: (view: View) => ReactNode;
}

export function PanelDrawing({ name, panel, wood, parts, stage, flipped, picked, oiled, on, children }: Props) {
  const before = stage !== "whole" && parts.first ? parts.first : null;
  const shown = useMemo((): Wood => {
    if (!before) return wood;
    const [, y0, x1, y1] = parts.firstBox;
    const path = before.map((p) => p.path).join("");
    const glued = { ...parts, parts: before };
    return { ...wood, parts: glued, path, usable: path, length: x1, minY: y0, maxY: y1, flaws: [], features: [] };
  }, [wood, parts, before]);
  return (
    <WoodDrawing
      wood={shown}
      name={name}
      flipped={flipped}
      marking
      oiled={oiled}
      label={`Strips of ${name}. ${keys}`}
      onKeyDown={on.onKeyDown}
      pointer={on.pointer}
    >
      {(view) => (
        <>
          {!before && children(view)}
          <StripLayer
            panel={panel}
            parts={before ?? parts.parts}
            picked={picked}
            view={view}
            flipped={flipped}
            whole={whole(parts, stage)}
            cuts={stage === "cut" ? (parts.cuts ?? []) : undefined}
          />
        </>
      )}
    </WoodDrawing>
  );
}

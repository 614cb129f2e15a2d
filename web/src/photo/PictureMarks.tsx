// The picture as it was taken, with marks on it.
import { useRef, type PointerEvent } from "react";
import type { Point } from "../api/client";
import { useSize } from "../kit/drawing";
import { Grip } from "../timber/PieceDrawing";

/** Picture is a photograph that the server keeps, in pixels. */
export interface Picture {
  id: string;
  width: number;
  height: number;
}

interface MarksProps {
  picture: Picture;
  /** Joined by a line, which is closed where there are more than two. */
  marks: Point[];
  /** For whoever does not see it. */
  label: string;
  picked: number;
  onPick: (i: number) => void;
  onMove: (i: number, p: Point) => void;
}

/** PictureMarks shows the picture as it was taken, with marks to be dragged. */
export function PictureMarks({ picture, marks, label, picked, onPick, onMove }: MarksProps) {
  const [ref, size] = useSize();
  const drag = useRef(-1);
  const scale = Math.min(size.width / picture.width, size.height / picture.height);
  const at = (e: PointerEvent<SVGSVGElement>): Point => {
    const box = e.currentTarget.getBoundingClientRect();
    return { x: (e.clientX - box.left) / scale, y: (e.clientY - box.top) / scale };
  };
  const loupe = picked >= 0 ? marks[picked] : undefined;
  const zoom = 4;
  return (
    <div className="photo-room" ref={ref}>
      {size.width > 0 && (
        <svg
          width={picture.width * scale}
          height={picture.height * scale}
          role="application"
          tabIndex={0}
          aria-label={label}
          onKeyDown={(e) => {
            const step = e.shiftKey ? 10 : 1;
            const keys: Record<string, Point> = {
              ArrowLeft: { x: -step, y: 0 },
              ArrowRight: { x: step, y: 0 },
              ArrowUp: { x: 0, y: -step },
              ArrowDown: { x: 0, y: step },
            };
            if (e.key === "]") onPick((picked + 1) % marks.length);
            else if (e.key === "[") onPick((picked + marks.length - 1) % marks.length);
            else if (e.key in keys && picked >= 0)
              onMove(picked, { x: marks[picked].x + keys[e.key].x, y: marks[picked].y + keys[e.key].y });
            else return;
            e.preventDefault();
          }}
          onPointerDown={(e) => {
            const id = (e.target as Element).getAttribute("data-grip");
            if (id === null) return;
            e.currentTarget.setPointerCapture(e.pointerId);
            drag.current = Number(id);
            onPick(drag.current);
          }}
          onPointerMove={(e) => drag.current >= 0 && onMove(drag.current, at(e))}
          onPointerUp={() => (drag.current = -1)}
        >
          <image href={`/api/pictures/${picture.id}`} width={picture.width * scale} height={picture.height * scale} />
          <path
            className="sheet-line"
            d={`M${marks.map((c) => `${c.x * scale} ${c.y * scale}`).join("L")}${marks.length > 2 ? "z" : ""}`}
          />
          {marks.map((c, i) => (
            <Grip key={i} id={String(i)} at={{ x: c.x * scale, y: c.y * scale }} picked={picked === i} />
          ))}
          {loupe && (
            <g
              className="loupe"
              transform={`translate(${loupe.x * scale > 150 ? 4 : picture.width * scale - 124} 4)`}
              pointerEvents="none"
            >
              <svg
                width={120}
                height={120}
                viewBox={`${loupe.x - 60 / zoom} ${loupe.y - 60 / zoom} ${120 / zoom} ${120 / zoom}`}
              >
                <image href={`/api/pictures/${picture.id}`} width={picture.width} height={picture.height} />
              </svg>
              <path d="M60 44V76M44 60H76M0 0H120V120H0Z" />
            </g>
          )}
        </svg>
      )}
    </div>
  );
}

// The edge that was found on a picture: its nodes dragged, fewer of them, and what it is.
import { useMutation } from "@tanstack/react-query";
import { useRef, useState, type Dispatch, type ReactNode, type SetStateAction } from "react";
import { api, unwrap, type Found } from "../api/client";
import { LengthField } from "../kit/fields";
import { useWorkshop } from "../kit/workshop";

export const firstTolerance = 0.5; // mm

/** reach is how long the wood is, mm: a node may have been dragged past the end that was found. */
export const reach = (f: Found) => Math.max(f.length, ...f.line.map((p) => p.x));

/** useNodes moves the nodes of an edge that was found, and makes it simpler. */
export function useNodes(found: Found | null, setFound: Dispatch<SetStateAction<Found | null>>) {
  const moved = useRef(0); // how often a node was dragged
  const moveNode = (i: number, dx: number, dy: number) => {
    moved.current++;
    setFound(
      (f) =>
        f && {
          ...f,
          line: f.line.map((p, k) => (k === i ? { x: Math.max(Math.min(0, p.x), p.x + dx), y: p.y + dy } : p)),
        },
    );
  };
  const simplify = useMutation({
    mutationFn: async (within: number) => {
      const at = moved.current;
      const line = await unwrap(
        api.POST("/api/outlines/simplify", { body: { line: found!.dense, tolerance: within } }),
      );
      return at === moved.current ? line : null; // what was dragged meanwhile stays
    },
    onSuccess: (line) => line && setFound((f) => f && { ...f, line }),
  });
  return { moveNode, simplify };
}

interface EdgeProps {
  found: Found;
  /** What becomes of the picture. */
  after: string;
  onSimplify: (within: number) => void;
  children: ReactNode;
}

/** Edge is what was found, to be made simpler and taken. */
export function Edge({ found, after, onSimplify, children }: EdgeProps) {
  const { length, value } = useWorkshop();
  const [tolerance, setTolerance] = useState(firstTolerance);
  const error = Math.max(0.1, Math.round(found.error * 10) / 10);
  return (
    <>
      <h2>3. The edge</h2>
      <p role="status" className="found-words">
        {length(Math.round(reach(found) * 10) / 10)} long, {value(found.area / 100, "cm²")},{" "}
        {`${found.line.length} nodes. `}
        Expect it to be right within <strong>{length(error)}</strong> on the whole.
      </p>
      <p className="facts">Drag a node where it strays, or pick one and use the arrow keys.</p>
      <LengthField
        label="Simplify within"
        of="finding.tolerance"
        mm={tolerance}
        onChange={(within) => {
          setTolerance(within);
          onSimplify(within);
        }}
      />
      <div className="d-flex gap-2 mt-2">{children}</div>
      <p className="facts">{after}</p>
    </>
  );
}

// A mark in the list: its fields come into sight when it is picked, on the wood or here.
import { useEffect, useRef, type ReactNode } from "react";
import { RemoveButton } from "../kit/fields";

interface Props {
  id: string;
  name: string;
  facts: string;
  /** What it is called where it is removed. */
  what: string;
  open: boolean;
  onOpen: (open: boolean) => void;
  onRemove: () => void;
  /** Stands below the head also while it is closed. */
  always?: ReactNode;
  children: ReactNode;
}

export function MarkCard({ id, name, facts, what, open, onOpen, onRemove, always, children }: Props) {
  const card = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (open) card.current?.scrollIntoView({ block: "nearest" });
  }, [open]);
  return (
    <div className="flaw-card" data-flaw-card={id} ref={card}>
      <div className="d-flex align-items-center">
        <button type="button" className="flaw-head" aria-expanded={open} onClick={() => onOpen(!open)}>
          {name}
          <span className="facts">{facts}</span>
        </button>
        <RemoveButton what={what} onClick={onRemove} />
      </div>
      {always}
      {open && children}
    </div>
  );
}

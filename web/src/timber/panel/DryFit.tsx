// The picture of the dry fit, kept at its panel.
import { useMutation } from "@tanstack/react-query";
import type { Panel } from "../../api/client";
import { send } from "../../kit/files";
import { Wrong } from "../../kit/parts";

export function DryFit({ panel, set }: { panel: Panel; set: (part: Partial<Panel>) => void }) {
  const keep = useMutation({
    mutationFn: (file: File) => send<{ id: string }>("/api/pictures", file),
    onSuccess: (p) => set({ fitted: p.id }),
  });
  return (
    <>
      <h3>Dry fit</h3>
      {panel.fitted && <img className="dry-fit" src={`/api/pictures/${panel.fitted}`} alt="The dry fit" />}
      <label className="btn btn-sm btn-outline-primary">
        {panel.fitted ? "Take another picture" : "Keep a picture of it"}
        <input
          type="file"
          accept="image/*"
          capture="environment"
          className="visually-hidden"
          onChange={(e) => {
            const file = e.target.files?.[0];
            if (file) keep.mutate(file);
          }}
        />
      </label>
      <Wrong error={keep.error} />
    </>
  );
}

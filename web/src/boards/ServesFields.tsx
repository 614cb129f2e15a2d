// What a board serves, and how many.
import type { Board } from "../api/client";
import { Choice, NumberField } from "../kit/fields";
import type { PanelProps } from "./panel";

export function ServesFields({ give, set }: { give: Board["give"]; set: PanelProps["set"] }) {
  return (
    <>
      <Choice
        label="For"
        value={give.use}
        options={["nibbles", "starter", { value: "main", label: "main course" }]}
        onChange={(use) => set({ give: { use } })}
      />
      <NumberField
        label="People"
        whole
        of="board.give.people"
        value={give.people}
        onChange={(people) => set({ give: { people } }, "people")}
      />
    </>
  );
}

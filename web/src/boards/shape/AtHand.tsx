import { Choice } from "../../kit/fields";
import { useWorkshop } from "../../kit/workshop";

interface Props {
  radius: number;
  onChange: (radius: number) => void;
}

/** AtHand picks a round thing that the shop keeps, to be traced; nothing where it keeps none. */
export function AtHand({ radius, onChange }: Props) {
  const { shop, length } = useWorkshop();
  const rounds = shop.rounds ?? [];
  if (rounds.length === 0) return null;
  return (
    <Choice
      label="or round a thing at hand"
      value={rounds.find((o) => o.radius === radius)?.name ?? ""}
      options={[
        { value: "", label: "none" },
        ...rounds.map((o) => ({ value: o.name, label: `${o.name}, radius ${length(o.radius)}` })),
      ]}
      onChange={(name) => {
        const thing = rounds.find((o) => o.name === name);
        if (thing) onChange(thing.radius);
      }}
    />
  );
}

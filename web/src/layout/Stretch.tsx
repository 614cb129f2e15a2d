// How large a board may be stretched where there is room.
import { LengthField } from "../kit/fields";

interface Stretched {
  longest?: number;
  widest?: number;
}

interface Props {
  /** The name of what is stretched among the ranges that the server gives. */
  of: string;
  value: Stretched;
  onChange: (some: Stretched) => void;
}

export function Stretch({ of, value, onChange }: Props) {
  return (
    <>
      <LengthField
        label="Longest, 0 as drawn"
        of={`${of}.longest`}
        mm={value.longest ?? 0}
        onChange={(longest) => onChange({ longest })}
      />
      <LengthField
        label="Widest, 0 as drawn"
        of={`${of}.widest`}
        mm={value.widest ?? 0}
        onChange={(widest) => onChange({ widest })}
      />
    </>
  );
}

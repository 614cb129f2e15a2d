// How large a board may be stretched where there is room.
import { LengthField } from "../kit/fields";

interface Stretched {
  longest?: number;
  widest?: number;
}

interface Props {
  /** The names of the ranges that the server gives for the two. */
  ofLongest: string;
  ofWidest: string;
  value: Stretched;
  onChange: (some: Stretched) => void;
}

export function Stretch({ ofLongest, ofWidest, value, onChange }: Props) {
  return (
    <>
      <LengthField
        label="Longest, 0 as drawn"
        of={ofLongest}
        mm={value.longest ?? 0}
        onChange={(longest) => onChange({ longest })}
      />
      <LengthField
        label="Widest, 0 as drawn"
        of={ofWidest}
        mm={value.widest ?? 0}
        onChange={(widest) => onChange({ widest })}
      />
    </>
  );
}

// A sample drawn as it is cut: the mark by which it is known after any washing.
const outline: Record<string, string> = {
  plain: "M2 4H62V32H2Z",
  "clipped corner": "M2 4H52L62 14V32H2Z",
  "two corners": "M2 4H52L62 14V22L52 32H2Z",
  notch: "M2 4H26V12H36V4H62V32H2Z",
  "two notches": "M2 4H16V12H24V4H38V12H46V4H62V32H2Z",
  hole: "M2 4H62V32H2ZM54 14a4 4 0 1 0 0.01 0Z",
  "two holes": "M2 4H62V32H2ZM54 8a4 4 0 1 0 0.01 0ZM54 20a4 4 0 1 0 0.01 0Z",
  groove: "M2 4H62V32H2ZM2 24H62V26H2Z",
};

export function SampleShape({ mark }: { mark: string }) {
  return (
    <svg className="sample-shape" viewBox="0 0 64 36" width="64" height="36" role="img" aria-label={mark}>
      <path d={outline[mark] ?? outline.plain} fillRule="evenodd" />
    </svg>
  );
}

// The panel of each stage, beside the wood.
import { FillPanel } from "./fill/FillPanel";
import { FinishPanel } from "./finish/FinishPanel";
import { FitPanel } from "./FitPanel";
import { FlattenPanel } from "./FlattenPanel";
import { GivePanel } from "./GivePanel";
import { GluePanel } from "./GluePanel";
import { LayoutPanel } from "./LayoutPanel";
import type { Panel } from "./panel";
import { SandPanel } from "./sand/SandPanel";
import { WoodPanel } from "./WoodPanel";

/** NoPanel is that of a stage with nothing to choose: its figures and verdicts stand under the wood. */
export const NoPanel: Panel = () => null;

/** panels are by stage; that of Shape has parts of its own. */
export const panels: Record<string, Panel> = {
  wood: WoodPanel,
  layout: LayoutPanel,
  flatten: FlattenPanel,
  glue: GluePanel,
  fill: FillPanel,
  sand: SandPanel,
  finish: FinishPanel,
  fit: FitPanel,
  give: GivePanel,
};

// The typed client of the server, and the names of its types.
import createClient from "openapi-fetch";
import { asking } from "./asking";
import type { components, paths } from "./schema";

type S = components["schemas"];
export type Board = S["ReckonBoard"];
export type Design = S["BoardDesign"];
export type Node = S["BoardNode"];
export type Handle = S["BoardHandle"];
export type Recess = S["BoardRecess"];
export type Edge = S["BoardEdge"];
export type EdgeAt = S["BoardEdgeAt"];
export type End = S["BoardEnd"];
export type Grip = S["BoardGrip"];
export type Motion = S["BoardMotion"];
export type Mate = S["BoardMate"];
export type Section = S["BoardSection"];
export type Fit = S["FittingChoice"];
export type Tool = S["Tool"];
export type ToolKind = S["ToolKind"];
export type Bit = S["ToolBit"];
export type Blade = S["ToolBlade"];
export type Router = S["ToolRouter"];
export type RouterBit = S["ToolRouterBit"];
export type TemplateLine = S["TemplateLine"];
export type VersionLine = S["VersionLine"];
export type Reckoned = S["ReckonReckoned"];
export type Reckoning = S["ReckonReckoning"];
export type Wood = S["ReckonWood"];
export type ToCome = S["ReckonToCome"];
export type Evening = S["ReckonEvening"];
export type Mix = S["FillMix"];
export type River = S["River"];
export type OfRiver = S["ReckonOfRiver"];
export type Pouring = S["FillPouring"];
export type Slab = S["Slab"];
export type Flaw = S["StockFlaw"];
export type Feature = S["StockFeature"];
export type Mark = S["StockMark"];
export type Look = S["SlabLook"];
export type Photo = S["SlabPhoto"];
export type Station = S["SlabStation"];
export type Offcut = S["ReckonOffcut"];
export type Found = S["FoundOutline"];
export type FileOutline = S["FileOutline"];
export type Instrument = S["InstrumentDoc"];
export type MeterReading = S["Reading"];
export type RackTable = S["Table"];
export type Species = S["Species"];
export type Shop = S["Shop"];
export type Sheet = S["Sheet"];
export type LayoutDoc = S["LayoutDoc"];
export type LaidOut = S["ReckonLaidOut"];
export type OnSlab = S["ReckonOnSlab"];
export type SlabCut = S["LayoutSlabCut"];
export type Want = S["ReckonWant"];
export type Held = S["ReckonHeld"];
export type Placed = S["ReckonPlaced"];
export type Proposal = S["ReckonProposal"];
export type SearchNews = S["SearchNews"];
export type Piece = S["PieceDoc"];
export type PieceLine = S["PieceLine"];
export type BoardLine = S["BoardLine"];
export type Verdict = S["Verdict"];
export type Figure = S["Figure"];
export type Remedy = S["Remedy"];
export type Notch = S["ReckonNotch"];
export type Dated = S["PlanDated"];
export type Subject = S["PlanSubject"];
export type Product = S["ShelfProduct"];
export type ProductDoc = S["ProductDoc"];
export type Shopping = S["Shopping"];
export type ShelfTable = S["ShelfTable"];
export type Recipe = S["ShelfRecipe"];
export type DataSheet = S["ShelfSheet"];
export type Lumber = S["ShelfLumber"];
export type Person = S["GivingPerson"];
export type PersonDoc = S["PersonDoc"];
export type Occasion = S["GivingOccasion"];
export type OccasionDoc = S["OccasionDoc"];
export type ComingDay = S["ComingDay"];
export type CardLine = S["GivingLine"];
export type Triage = S["Triage"];
export type RescueSheet = S["RescueSheet"];
/** Hurt is a board as it is drawn with what a mishap has left in it. */
export type Hurt = Pick<RescueSheet, "path" | "holes" | "box" | "light" | "dark" | "gone" | "left">;
export type WayOut = S["ReckonWayOut"];
export type WayFound = S["WayFound"];
export type WaysOver = S["WaysOver"];
export type MishapKind = S["RescueKind"];
export type MishapReport = S["RescueReport"];
export type PracticeSheet = S["PracticeSheet"];
export type Language = S["GivingLanguage"];
export type Panel = S["GluePanel"];
export type Strip = S["GlueStrip"];
export type Glued = S["GlueGlued"];
export type Drawn = S["GlueDrawn"];
export type Pressed = S["GluePressed"];
export type Need = S["GlueNeed"];
export type PanelChoice = S["GlueChoice"];
export type Arranging = S["GlueArranging"];
export type OfParts = S["ReckonOfParts"];
export type Course = S["PlanCourse"];
export type Ladder = S["SandingLadder"];
export type OwnSurface = S["SandingOwn"];
export type Act = S["FinishAct"];
export type FinishOption = S["FinishOption"];
export type Trial = S["Trial"];
export type TrialDoc = S["TrialDoc"];
export type TrialRound = S["TrialRound"];
export type LogLine = S["LogLine"];
export type KindTook = S["PlanKindTook"];
export type Tables = S["Tables"];
export type Bench = S["Bench"];
export type Run = S["Run"];
export type Setup = S["ToolSetup"];
export type Turn = S["RunTurn"];
export type Spread = S["ReckonSpread"];
export type RunSheet = S["RunSheet"];
export type RunListed = S["RunListed"];
export type Operation = S["RunOperation"];
export type WorkPlan = S["WorkPlan"];
export type BenchBoard = S["BenchBoard"];
export type Logbook = S["Logbook"];
export type Point = S["GeomPoint"];
export type Problem = S["ErrorModel"];

export const api = createClient<paths>({ baseUrl: "", fetch: asking });

/** Refused is an answer of the server that says what is wrong. */
export class Refused extends Error {
  constructor(
    readonly status: number,
    readonly problem: Problem,
  ) {
    super(problem.detail ?? problem.title ?? "The server refused this");
  }

  /** What is wrong, field by field. */
  get details(): string[] {
    return (this.problem.errors ?? []).map((e) => `${(e.location ?? "").replace(/^body\./, "")}: ${e.message ?? ""}`);
  }
}

/** unwrap gives the data of an answer, or throws Refused. */
export async function unwrap<T>(answer: Promise<{ data?: T; error?: unknown; response: Response }>): Promise<T> {
  const { data, error, response } = await answer;
  if (!response.ok) throw new Refused(response.status, (error ?? {}) as Problem);
  return data as T;
}

/** storing gives the data of a save, or what was stored elsewhere since; it throws Refused for any other refusal. */
export async function storing<T, S>(
  answer: Promise<{ data?: T; error?: Problem | { stored: S; version: number }; response: Response }>,
): Promise<{ data: T } | { stored: S; version: number }> {
  const { data, error, response } = await answer;
  if (error && "stored" in error) return { stored: error.stored, version: error.version };
  return { data: await unwrap(Promise.resolve({ data, error, response })) };
}

/** say turns any error into a sentence. */
export function say(error: unknown): string {
  if (error instanceof Refused) return [error.message, ...error.details].join(" · ");
  return "The server does not answer. What you typed is kept here.";
}

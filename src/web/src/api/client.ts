/** The typed client of the server's interface, and the names of its types. */
import createClient from "openapi-fetch";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type DesignEdit = Schemas["DesignEdit"];
export type SiteDesign = Schemas["SiteDesign"];
export type NodeDesign = Schemas["NodeDesign"];
export type PartInstance = Schemas["PartInstance"];
export type ReadingDesign = Schemas["ReadingDesign"];
export type RuleDesign = Schemas["RuleDesign"];
export type RuleCondition = Schemas["RuleCondition"];
export type PlaceImport = Schemas["PlaceImport"];
export type FloorScan = Schemas["FloorScan"];
export type Room = Schemas["Room"];
export type Wall = Schemas["Wall"];
export type Opening = Schemas["Opening"];
export type OwnBand = Schemas["OwnBand"];
export type Floor = Schemas["Floor"];
export type AccessPoint = Schemas["AccessPoint"];
export type HeatSource = Schemas["HeatSource"];
export type CoveragePlan = Schemas["CoveragePlan"];
export type Sight = Schemas["Sight"];
export type RoomCoverage = Schemas["RoomCoverage"];
export type FittedModel = Schemas["FittedModel"];
export type PlannedLink = Schemas["PlannedLink"];
export type RelayPlan = Schemas["RelayPlan"];
export type PlannedRoute = Schemas["PlannedRoute"];
export type PlannedRelay = Schemas["PlannedRelay"];
export type LawBudget = Schemas["LawBudget"];
export type HeatMap = Schemas["HeatMap"];
export type RadioDesign = Schemas["RadioDesign"];
export type RadioPlace = Schemas["RadioPlace"];
export type Spot = Schemas["Spot"];
export type SitePlan = Schemas["SitePlan"];
export type NodePlan = Schemas["NodePlan"];
export type BenchPlan = Schemas["BenchPlan"];
export type PlannedWire = Schemas["PlannedWire"];
export type PlannedLine = Schemas["PlannedLine"];
export type RhythmPlan = Schemas["RhythmPlan"];
export type WakeKind = Schemas["WakeKind"];
export type CycleSegment = Schemas["CycleSegment"];
export type HarvestPlan = Schemas["HarvestPlan"];
export type HarvestDesign = Schemas["HarvestDesign"];
export type LinkTraits = Schemas["LinkTraits"];
export type SendDesign = Schemas["SendDesign"];
export type ChannelPlan = Schemas["ChannelPlan"];
export type LifeGain = Schemas["LifeGain"];
export type RhythmComparison = Schemas["RhythmComparison"];
export type RhythmPoint = Schemas["RhythmPoint"];
export type RadioRhythm = Schemas["RadioRhythm"];
export type Finding = Schemas["Finding"];
export type Remedy = Schemas["Remedy"];
/** A figure of a plan comes without its working, which is asked for by the figure's address. */
export type Figure = Omit<Schemas["Figure"], "working"> & { working?: Schemas["Working"]; at?: string };
export type Worked = Schemas["Figure"];
export type Severity = Schemas["Severity"];
export type Board = Schemas["Board"];
export type Pin = Schemas["Pin"];
export type Part = Schemas["Part"];
export type Cell = Schemas["Cell"];
export type Catalogue = Schemas["CatalogueView"];
export type SessionView = Schemas["SessionView"];
export type SiteView = Schemas["SiteView"];
export type PlacedParts = Schemas["PlacedParts"];
export type ReadingView = Schemas["ReadingView"];
export type EpisodeData = Schemas["EpisodeData"];
export type ThresholdData = Schemas["ThresholdData"];
export type LiveSample = Schemas["LiveSample"];
export type EpisodeView = Schemas["EpisodeView"];
export type ReadingRef = Schemas["ReadingRef"];
export type DerivedChoices = Schemas["DerivedChoicesView"];
export type DerivedChoice = Schemas["DerivedChoice"];
export type DerivedRole = Schemas["DerivedRole"];
export type PulsesDesign = Schemas["PulsesDesign"];
export type VesselTile = Schemas["VesselTile"];
export type ActDesign = Schemas["ActDesign"];
export type TellDesign = Schemas["TellDesign"];
export type QuietDesign = Schemas["QuietDesign"];
export type PersonDesign = Schemas["PersonDesign"];
export type ZoneDesign = Schemas["ZoneDesign"];
export type ZoneChoice = Schemas["ZoneChoice"];
export type ZoneChoices = Schemas["ZoneChoices"];
export type UsualDesign = Schemas["UsualDesign"];
export type ZoneView = Schemas["ZoneView"];
export type ToldView = Schemas["ToldView"];
export type OutboxView = Schemas["OutboxView"];
export type ViewDesign = Schemas["ViewDesign"];
export type TileDesign = Schemas["TileDesign"];
export type TileContent = Schemas["TileContent"];
export type ViewData = Schemas["ViewData"];
export type TileData = Schemas["TileData"];
export type SeriesData = Schemas["SeriesData"];
export type SharedView = Schemas["SharedView"];
export type ShareLinkView = Schemas["ShareLinkView"];
export type MemberView = Schemas["MemberView"];
export type RulePart = Schemas["RulePart"];
export type DerivedDesign = Schemas["DerivedDesign"];
export type DerivedFrom = Schemas["DerivedFrom"];
export type DerivedView = Schemas["DerivedView"];
export type WireChoices = Schemas["WireChoices"];
export type WireTrial = Schemas["WireTrial"];
export type BoardOption = Schemas["BoardOption"];
export type PartsListing = Schemas["PartsListing"];
export type PartsListItem = Schemas["PartsListItem"];
export type PartAnswer = Schemas["PartAnswer"];
export type PowerDesign = Schemas["PowerDesign"];
export type StockItem = Schemas["StockItem"];
export type FileFault = Schemas["FileFault"];
export type SerialLineDesign = Schemas["SerialLineDesign"];
export type FrameFormat = Schemas["FrameFormat"];
export type FrameField = Schemas["FrameField"];
export type TriedFrames = Schemas["TriedFrames"];
export type ImportView = Schemas["ImportView"];
export type CsvLayout = Schemas["CsvLayout"];
export type CsvColumn = Schemas["CsvColumn"];
export type Stretch = Schemas["Stretch"];
export type OutputView = Schemas["OutputView"];
export type OutputDesign = Schemas["OutputDesign"];
export type CommandView = Schemas["CommandView"];
export type NodeView = Schemas["NodeView"];
export type ArrivalView = Schemas["ArrivalView"];
export type StandInView = Schemas["StandInView"];
export type SunkMessage = Schemas["SunkMessage"];
export type StandInSetting = Schemas["StandInSetting"];
export type FirstVerdict = Schemas["FirstVerdict"];
export type ProofVerdict = Schemas["ProofVerdict"];
export type BuildStepView = Schemas["BuildStepView"];
export type BuildTick = Schemas["BuildTick"];
export type WalkedSpot = Schemas["WalkedSpot"];
export type BatteryView = Schemas["BatteryView"];
export type DueItem = Schemas["DueItem"];
export type ScanView = Schemas["ScanView"];
export type ScanLine = Schemas["ScanLine"];
export type CalibratedReading = Schemas["CalibratedReading"];
export type CalibrationKind = Schemas["CalibrationKind"];
export type CalibrationPoint = Schemas["CalibrationPoint"];
export type CalibrationView = Schemas["CalibrationView"];
export type RecomputeView = Schemas["RecomputeView"];
export type LogEntry = Schemas["LogEntry"];
export type StoreReport = Schemas["StoreReport"];

let token = "";

/** Sets the token that every write carries. */
export function useToken(value: string) {
  token = value;
}

export const api = createClient<paths>({ baseUrl: "/" });
api.use({
  onRequest({ request }) {
    if (request.method !== "GET") request.headers.set("X-Cenotic-Token", token);
    return request;
  },
});

/** A sentence for what went wrong in a call. */
export function sentence(error: unknown): string {
  const e = error as { detail?: string; title?: string; reasons?: string[]; message?: string } | undefined;
  if (e?.reasons?.length) return e.reasons.join(" ");
  return e?.detail ?? e?.message ?? e?.title ?? "The server did not answer. Is it running?";
}

/** What a call answers; a refusal becomes an error with its sentence. */
export async function answer<T>(call: Promise<{ data?: T; error?: unknown }>): Promise<T> {
  const { data, error } = await call;
  if (!data) throw new Error(sentence(error));
  return data;
}

/** The field of a form that a refusal is about; undefined where it is about none. */
export function fieldOf(error: unknown): string | undefined {
  return (error as { field?: string } | undefined)?.field;
}

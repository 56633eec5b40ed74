import createClient from "openapi-fetch";
import type { components, paths } from "../generated/api";
import { AwayError, ProblemError } from "./errors";

type Schemas = components["schemas"];
export type AssemblyView = Schemas["AssemblyView"];
export type BenchAction = Schemas["BenchAction"];
export type BenchNews = Schemas["BenchNews"];
export type BenchHand = Schemas["BenchHand"];
export type BenchPlace = Schemas["BenchPlace"];
export type BoardAnswers = Schemas["BoardAnswers"];
export type BuildSummary = Schemas["BuildSummary"];
export type BuildView = Schemas["BuildView"];
export type Candidate = Schemas["Candidate"];
export type Cause = Schemas["Cause"];
export type Counts = Schemas["Counts"];
export type Diagnosis = Schemas["Diagnosis"];
export type DiagnoseNext = Schemas["Next"];
export type Difference = Schemas["Difference"];
export type Document = Schemas["Document"];
export type Edit = Schemas["Edits"][number];
export type Finding = Schemas["Finding"];
export type Hookup = Schemas["PartHookup"];
export type Kind = Schemas["PartKind"];
export type Level = Schemas["Level"];
export type Library = Schemas["Library"];
export type Link = Schemas["Link"];
export type LiveRow = Schemas["LiveRow"];
export type LiveUpdate = Schemas["LiveUpdate"];
export type LiveWish = Schemas["LiveWish"];
export type Load = Schemas["Load"];
export type LogEntry = Schemas["LogEntry"];
export type MeterCheck = Schemas["MeterCheck"];
export type Observation = Schemas["Observation"];
export type Said = Schemas["Said"];
export type Part = Schemas["Part"];
export type PartReport = Schemas["PartReport"];
export type PinReport = Schemas["PinReport"];
export type Problem = Schemas["Problem"];
export type Profile = Schemas["Profile"];
export type Section = Schemas["Task"]["section"];
export type Todo = Schemas["List"];
export type Program = Schemas["Program"];
export type ProgramAnalysis = Schemas["ProgramAnalysis"];
export type Quantity = Schemas["Quantity"];
export type Recording = Schemas["BenchRecording"];
export type Row = Schemas["Row"];
export type ShouldVerdict = Schemas["Verdict"];
export type ShouldPieces = Schemas["Pieces"];
export type Step = Schemas["Step"];
export type Thing = Schemas["Thing"];
export type Working = Schemas["Working"];

export const api = createClient<paths>({ baseUrl: window.location.origin });

export { AwayError, ProblemError };

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** Waits for an answer and returns its data. Rejects with {@link AwayError} or {@link ProblemError}. */
export async function answer<T>(request: Promise<Answer<T>>): Promise<T> {
  let got: Answer<T>;
  try {
    got = await request;
  } catch (cause) {
    throw new AwayError("The server does not answer.", { cause });
  }
  if (got.response.ok) return got.data as T;
  const status = got.response.status;
  const problem = got.error as Problem | undefined;
  if (status === 502 || status === 503 || status === 504)
    throw new AwayError(problem?.title ?? "The server does not answer.");
  if (problem?.title) throw new ProblemError(problem);
  throw new ProblemError({ type: "about:blank", title: `The server answered ${status}.`, status });
}

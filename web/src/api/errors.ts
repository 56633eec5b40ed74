import type { components } from "../generated/api";

/** An answer that is an error, as the server explained it. */
export class ProblemError extends Error {
  constructor(readonly problem: components["schemas"]["Problem"]) {
    super(problem.title);
  }
}

type Problem = components["schemas"]["Problem"];

/** A problem in a sentence or two. */
export const inWords = (problem: Partial<Problem>) =>
  [problem.title, problem.detail].filter(Boolean).join(" ");

/** Each mistake by itself, with what would be right; or the problem in words. */
export const inLines = (problem: Partial<Problem>) =>
  problem.problems?.map(
    (p) => `${p.where ? `${p.where}: ` : ""}${p.what}${p.right ? `; ${p.right}` : ""}`,
  ) ?? [inWords(problem)];

/** The server, or its database, did not answer, or not now. */
export class AwayError extends Error {}

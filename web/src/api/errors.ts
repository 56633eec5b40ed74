import type { components } from "../generated/api";

/** An answer that is an error, as the server explained it. */
export class ProblemError extends Error {
  constructor(readonly problem: components["schemas"]["Problem"]) {
    super(problem.title);
  }
}

/** The server, or its database, did not answer, or not now. */
export class AwayError extends Error {}

import { useQuery } from "@tanstack/react-query";
import { AwayError, answer, api } from "../api/client";
import { waitLonger } from "./wait";

/** The boards and kinds of parts. They change only when a board is described or forgotten. */
export function useLibrary() {
  return useQuery({
    queryKey: ["library"],
    queryFn: () => answer(api.GET("/api/library")),
    staleTime: Number.POSITIVE_INFINITY,
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
}

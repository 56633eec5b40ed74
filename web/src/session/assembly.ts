import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { useSheet } from "./context";

/** The open build on the breadboard: placement, steps, drawings. What it was is shown until it is worked out anew. */
export function useAssembly() {
  const { view } = useSheet();
  return useQuery({
    queryKey: ["assembly", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/assembly", { params: { path: { id: view.id } } })),
    placeholderData: keepPreviousData,
  });
}

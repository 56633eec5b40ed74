import { keepPreviousData, useIsFetching, useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect } from "react";
import { answer, api, type Section, type Todo } from "../api/client";
import { useSheet } from "../session/context";

/** Questions whose answers tell more of what is to be done. */
const tells = ["program", "should", "log", "checks", "assembly"];

/** Where a section of a build is, below its address. */
export const paths: Record<Section, string> = {
  plan: "",
  program: "program",
  assemble: "assemble",
  test: "meter",
  bench: "bench",
  log: "log",
};

/** The address of a section of a build. */
export const addressOf = (build: string, section: Section) =>
  `/builds/${build}${paths[section] ? `/${paths[section]}` : ""}`;

/** What is to be done next, and how far each section is, by what is known. */
export function useTodo(): Todo | undefined {
  const { view } = useSheet();
  const todo = useQuery({
    queryKey: ["todo", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/next", { params: { path: { id: view.id } } })),
    placeholderData: keepPreviousData,
  });
  return todo.data;
}

/** Asks again what is to be done when more is known. Once on a page is enough. */
export function useFreshTodo(): void {
  const { view } = useSheet();
  const queries = useQueryClient();
  const asking = useIsFetching({ predicate: (q) => tells.includes(String(q.queryKey[0])) }) > 0;
  useEffect(() => {
    if (!asking) void queries.invalidateQueries({ queryKey: ["todo", view.id] });
  }, [asking, queries, view.id]);
}

import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { AwayError, answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "./controls";
import { LevelMark } from "./level";
import { waitLonger } from "./wait";

/** Asks whether sentences hold of a build, or with read, only how they are understood. */
export function askShould(id: string, sentences: string[], built: boolean, read = false) {
  return answer(
    api.POST("/api/builds/{id}/should", { params: { path: { id } }, body: { sentences, built, read } }),
  );
}

/** Whether what the build should do holds, in the state that it is in: on the plan, or as it was built. */
export function useVerdicts(built: boolean, enabled: boolean) {
  const { view } = useSheet();
  const said = view.document.should ?? [];
  return useQuery({
    queryKey: ["should", view.id, view.tag, built, said],
    queryFn: () => askShould(view.id, said, built),
    enabled,
    staleTime: Number.POSITIVE_INFINITY, // the tag names the state that they are of
    retry: (_, error) => error instanceof AwayError,
    retryDelay: waitLonger,
  });
}

/** How many of its sentences hold; they are tried when somebody asks, for that takes a while. */
export function Holds({ built = false }: { built?: boolean }) {
  const { view } = useSheet();
  const verdicts = useVerdicts(built, false);
  const said = view.document.should?.length ?? 0;
  if (said === 0) return null;
  const list = verdicts.data?.verdicts;
  const holding = list?.filter((v) => v.holds).length ?? 0;
  const sentences = said === 1 ? "its sentence" : `its ${said} sentences`;
  return (
    <div className="flex min-h-9 items-center gap-2 border-rule border-t px-4 py-1 text-small" role="status">
      {verdicts.isFetching ? (
        <span>Trying {sentences} with many hands…</span>
      ) : list ? (
        <>
          {holding < list.length && <LevelMark level="stop" size={16} />}
          <Link to={`/builds/${view.id}/bench`} className="underline">
            {holding} of {list.length} sentences hold
          </Link>
        </>
      ) : (
        <>
          <Button
            look="quiet"
            className="min-h-0! px-0! py-1 underline"
            onClick={() => void verdicts.refetch()}
          >
            Try {sentences}
          </Button>
          {verdicts.isError && <span role="alert">{verdicts.error.message}</span>}
        </>
      )}
    </div>
  );
}

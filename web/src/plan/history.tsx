import { useInfiniteQuery, useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { LevelMark } from "../shared/level";

/** Every state that the build was in, in words; any of them can be looked at and brought back. */
export function History({ open, onOpenChange }: { open: boolean; onOpenChange: (open: boolean) => void }) {
  const { view, edit } = useSheet();
  const [looked, look] = useState<number>();
  const list = useInfiniteQuery({
    queryKey: ["revisions", view.id, view.tag],
    queryFn: ({ pageParam }) =>
      answer(
        api.GET("/api/builds/{id}/revisions", {
          params: { path: { id: view.id }, query: { before: pageParam } },
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (page) => (page.more ? page.revisions.at(-1)?.n : undefined),
    enabled: open,
  });
  const revisions = list.data?.pages.flatMap((page) => page.revisions);
  const detail = useQuery({
    queryKey: ["revision", view.id, view.tag, looked],
    queryFn: () =>
      answer(
        api.GET("/api/builds/{id}/revisions/{n}", { params: { path: { id: view.id, n: looked ?? 1 } } }),
      ),
    enabled: open && looked !== undefined,
  });
  const restore = () => {
    if (!detail.data) return;
    edit(`go back to state ${looked}`, { op: "replace", document: detail.data.document });
    onOpenChange(false);
  };
  return (
    <Dialog title="History" open={open} onOpenChange={onOpenChange} wide>
      {list.isPending && <p>Looking it up…</p>}
      {list.error && <p role="alert">{list.error.message}</p>}
      <ol className="divide-y divide-rule" aria-label="States, the newest first">
        {revisions?.map((r) => (
          <li key={r.n} className={r.n === looked ? "bg-wash" : ""}>
            <button
              type="button"
              aria-expanded={r.n === looked}
              onClick={() => look(r.n === looked ? undefined : r.n)}
              className="grid w-full grid-cols-[3rem_1fr_auto_9rem] items-center gap-3 px-2 py-1.5 text-left hover:bg-wash"
            >
              <span className="font-mono text-faint">{r.n}</span>
              <span className={r.shown ? "font-semibold" : ""}>
                {r.summary}
                {r.shown && <span className="text-faint"> (shown now)</span>}
              </span>
              <span className="flex gap-2 font-mono">
                {(["stop", "care"] as const).map(
                  (level) =>
                    r.counts[level] > 0 && (
                      <span key={level} className="flex items-center gap-1">
                        <LevelMark level={level} size={15} />
                        {r.counts[level]}
                      </span>
                    ),
                )}
              </span>
              <time className="text-faint text-small" dateTime={r.created}>
                {new Date(r.created).toLocaleString(undefined, { dateStyle: "short", timeStyle: "short" })}
              </time>
            </button>
            {r.n === looked && !r.shown && (
              <div className="space-y-2 px-2 pb-3 pl-16">
                {detail.data?.changes.length === 0 && <p className="text-faint">The same as now.</p>}
                <ul className="list-disc pl-5">
                  {detail.data?.changes.map((c) => (
                    <li key={c}>{c}</li>
                  ))}
                </ul>
                <Button look="main" disabled={!detail.data} onClick={restore}>
                  Bring this state back
                </Button>
              </div>
            )}
          </li>
        ))}
      </ol>
      {list.hasNextPage && (
        <Button disabled={list.isFetchingNextPage} onClick={() => void list.fetchNextPage()}>
          {list.isFetchingNextPage ? "Looking them up…" : "Show older ones"}
        </Button>
      )}
    </Dialog>
  );
}

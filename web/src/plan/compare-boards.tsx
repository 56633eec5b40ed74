import { useQuery } from "@tanstack/react-query";
import { answer, api } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { LevelMark } from "../shared/level";

/** What would be different about this build on each of the other boards. */
export function CompareBoards({
  open,
  onOpenChange,
}: {
  open: boolean;
  onOpenChange: (open: boolean) => void;
}) {
  const { view, board, library, edit } = useSheet();
  const compared = useQuery({
    queryKey: ["boards", view.id, view.tag],
    queryFn: () => answer(api.GET("/api/builds/{id}/boards", { params: { path: { id: view.id } } })),
    enabled: open,
  });
  return (
    <Dialog title="This build on other boards" open={open} onOpenChange={onOpenChange} wide>
      {compared.isPending && <p>Moving it to each of them…</p>}
      {compared.error && <p role="alert">{compared.error.message}</p>}
      <ul className="divide-y divide-rule">
        {compared.data
          ?.filter((c) => c.board !== board.id)
          .map((c) => {
            const to = library.boards.find((b) => b.id === c.board);
            return (
              <li key={c.board} className="grid grid-cols-[1fr_auto] items-start gap-x-6 py-3">
                <div>
                  <h3 className="font-semibold">{to?.name}</h3>
                  <p className="text-faint text-small">{to?.summary}</p>
                  {!c.fits && <p className="text-stop">It does not fit. {c.reason}</p>}
                  {c.fits && c.changes.length === 0 && <p>Nothing has to change.</p>}
                  <ul className="list-disc pl-5 text-small">
                    {c.changes.slice(0, 8).map((x) => (
                      <li key={x}>{x}</li>
                    ))}
                    {c.changes.length > 8 && <li>and {c.changes.length - 8} more</li>}
                  </ul>
                </div>
                <div className="flex items-center gap-3">
                  {(["stop", "care", "note"] as const).map(
                    (level) =>
                      c.counts[level] > 0 && (
                        <span key={level} className="flex items-center gap-1 font-mono">
                          <LevelMark level={level} size={15} />
                          {c.counts[level]}
                        </span>
                      ),
                  )}
                  <Button
                    disabled={!c.fits}
                    aria-label={`Move to the ${to?.name}`}
                    onClick={() => {
                      edit(`move to the ${to?.name}`, { op: "board", board: c.board });
                      onOpenChange(false);
                    }}
                  >
                    Move there
                  </Button>
                </div>
              </li>
            );
          })}
      </ul>
    </Dialog>
  );
}

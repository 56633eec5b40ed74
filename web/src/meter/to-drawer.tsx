import { useMutation, useQueryClient } from "@tanstack/react-query";
import { answer, api, type LogEntry } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { withMeasured } from "../shared/measured";

/** Puts a part that was measured into the drawer as what it measured. */
export function ToDrawer({ partId, valueId, entry }: { partId: string; valueId: string; entry: LogEntry }) {
  const { view } = useSheet();
  const queries = useQueryClient();
  const part = view.document.parts.find((p) => p.id === partId);
  const keep = useMutation({
    mutationFn: async () => {
      const { items, tag } = await answer(api.GET("/api/drawer"));
      const reading = entry.reading;
      if (!part || !reading) return;
      const measured = {
        kind: part.kind,
        type: part.type,
        of: valueId,
        value: reading.verdict.value,
        printed: reading.expect.typ,
      };
      const now = await answer(
        api.PUT("/api/drawer", {
          params: { header: { "If-Match": tag ?? "" } },
          body: { items: withMeasured(items, measured) },
        }),
      );
      queries.setQueryData(["drawer"], now);
    },
    retry: false, // an answer that got lost would make it two pieces
  });
  if (keep.isSuccess)
    return <p className="mt-2 text-good">It is in the drawer as {entry.reading?.verdict.text}.</p>;
  return (
    <>
      <Button className="mt-2 ml-2" disabled={keep.isPending} onClick={() => keep.mutate()}>
        Put it into the drawer as measured
      </Button>
      {keep.error && (
        <p role="alert" className="border-stop border-l-4 pl-3">
          {keep.error.message} Look into the drawer before you try it again.
        </p>
      )}
    </>
  );
}

import { useQuery } from "@tanstack/react-query";
import { answer, api, type LogEntry } from "../api/client";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";

/** What several readings say together about the supply, where that is something new. */
export function Feed({ readings }: { readings: LogEntry[] }) {
  const { view, edit } = useSheet();
  const { data } = useQuery({
    queryKey: ["supply", view.id, view.tag, readings[0]?.id],
    queryFn: () => answer(api.GET("/api/builds/{id}/supply", { params: { path: { id: view.id } } })),
    enabled: readings.length > 1,
  });
  const feed = data?.feed;
  if (!feed) return null;
  return (
    <section
      aria-label="The supply"
      className="flex flex-wrap items-center gap-3 border-rule border-b px-4 py-2"
    >
      <p className="grow">
        {feed.by.length} readings agree: the supply has <b className="font-mono">{feed.text}</b>, and is
        reckoned with {feed.reckoned}.
      </p>
      <Button
        onClick={() =>
          edit(`feed it with ${feed.text}`, { op: "supply", supply: feed.supply, text: feed.text })
        }
      >
        Reckon with {feed.text}
      </Button>
    </section>
  );
}

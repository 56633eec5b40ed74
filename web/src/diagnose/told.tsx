import { useMutation } from "@tanstack/react-query";
import type { FormEvent } from "react";
import { answer, api, type Said } from "../api/client";
import { Button } from "../shared/controls";
import { useKept } from "../shared/kept";

/** What somebody says, or what the console prints, taken for what can be pointed at. */
export function Told({
  build,
  built,
  onHeard,
}: {
  /** Its id. */
  build: string;
  built: boolean;
  onHeard: (seen: Said[]) => void;
}) {
  const [text, setText] = useKept(`told.${build}`, "");
  const hear = useMutation({
    mutationFn: () =>
      answer(
        api.POST("/api/builds/{id}/diagnosis/heard", {
          params: { path: { id: build } },
          body: { text, built },
        }),
      ),
    retry: false,
    onSuccess: (heard) => {
      onHeard(heard.observations);
      setText(heard.unknown.join("\n"));
    },
  });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    if (text.trim()) hear.mutate();
  };
  const heard = hear.data;
  return (
    <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
      <label className="flex min-w-64 grow flex-col gap-0.5">
        <span className="text-faint text-small">Or say it, or paste what the console prints</span>
        <textarea
          value={text}
          rows={text.includes("\n") ? 4 : 1}
          maxLength={20_000}
          onChange={(event) => setText(event.target.value)}
          placeholder="the sign lamp stays dark"
          className="rounded-sheet border border-ink/40 bg-sheet px-3 py-1"
        />
      </label>
      <Button type="submit" disabled={!text.trim() || hear.isPending}>
        Mark it
      </Button>
      <p role="status" className="w-full">
        {heard &&
          (heard.observations.length === 0
            ? `Nothing was marked. ${heard.why}`
            : `${heard.observations.length} marked.${heard.unknown.length > 0 ? " What is still in the field was not understood." : ""}`)}
      </p>
      {hear.error && (
        <p role="alert" className="w-full border-stop border-l-4 pl-3">
          {hear.error.message}
        </p>
      )}
    </form>
  );
}

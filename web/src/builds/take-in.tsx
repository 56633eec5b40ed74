import { useState } from "react";
import { useNavigate } from "react-router";
import { answer, api, type Document, type Library, ProblemError } from "../api/client";
import { withOwn } from "../api/kinds";
import type { components } from "../generated/api";
import { Button } from "../shared/controls";
import { Dialog } from "../shared/dialog";
import { FileButton } from "../shared/file-button";
import { LevelMark } from "../shared/level";
import { inks, SymbolPicture } from "../symbols/symbols";
import type { Act } from "./act";
import { Found } from "./found";

const mega = 1024 * 1024;

/** A build in a file, as the server read it. */
interface Read {
  file: string;
  document: Document;
  analysis: components["schemas"]["Analysis"];
}

/** Takes in a build from a file: what is in it is shown first. What is wrong with it, the server says. */
export function TakeIn({ library, act }: { library: Library; act: Act }) {
  const navigate = useNavigate();
  const [read, setRead] = useState<Read>();
  const look = (file: File) =>
    act(async () => {
      if (file.name.endsWith(".zip")) {
        const made = await answer(
          api.POST("/api/archives", {
            params: { header: { "Idempotency-Key": crypto.randomUUID() } },
            body: file as never,
            bodySerializer: () => file,
            headers: { "Content-Type": "application/zip" },
          }),
        );
        navigate(`/builds/${made.id}`);
        return;
      }
      if (file.size > mega) {
        const size = `${file.name} has ${Math.ceil(file.size / mega)} MB; a build has at most 1.`;
        throw new ProblemError({ type: "about:blank", title: size, status: 413 });
      }
      // As it is: the server reads it, and knows better what is wrong with it.
      const text = await file.text();
      const found = await answer(
        api.POST("/api/builds/read", { body: {}, bodySerializer: () => `{"document":${text}}` }),
      );
      setRead({ file: file.name, ...found });
    });
  const take = (document: Document) =>
    act(async () => {
      setRead(undefined);
      const made = await answer(api.POST("/api/builds", { body: { document } }));
      navigate(`/builds/${made.id}`);
    });
  return (
    <>
      <FileButton
        words="Import a file"
        spoken="A build as a file"
        accept=".json,application/json,.zip,application/zip"
        onFile={(file) => void look(file)}
      />
      <Dialog title={read?.file ?? ""} open={read !== undefined} onOpenChange={() => setRead(undefined)}>
        {read && <Contents read={read} library={library} onTake={() => void take(read.document)} />}
      </Dialog>
    </>
  );
}

function Contents({ read, library, onTake }: { read: Read; library: Library; onTake: () => void }) {
  const { document, analysis } = read;
  const board = library.boards.find((b) => b.id === document.board)?.name ?? document.board;
  const { kinds } = withOwn(library, document.kinds).catalogue;
  const parts = document.parts.filter((p) => !p.of);
  const worth = analysis.findings.filter((f) => f.level !== "note");
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <p className="grow text-large font-semibold">{document.title}</p>
        <p className="text-faint">{board}</p>
        <Found counts={analysis.counts} />
      </div>
      {parts.length === 0 && <p className="my-3 text-faint">It has no parts yet.</p>}
      <ul aria-label="Parts in the file" className="my-3 grid grid-cols-2 gap-x-4 sm:grid-cols-3">
        {parts.map((part) => {
          const kind = kinds.find((k) => k.id === part.kind);
          const ink = inks[kind?.types.find((t) => t.id === part.type)?.ink ?? ""];
          return (
            <li key={part.id} className="flex items-center gap-2 border-rule border-t py-1">
              {kind && <SymbolPicture symbol={kind.symbol} ink={ink} />}
              <span className="min-w-0">
                {part.name}
                <span className="block font-mono text-faint text-small">
                  {part.signals?.map((s) => s.pin).join(" ")}
                </span>
              </span>
            </li>
          );
        })}
      </ul>
      <ul aria-label="Findings in the file" className="my-3 space-y-1">
        {worth.map((f) => (
          <li key={f.id} className="flex items-center gap-2">
            <LevelMark level={f.level} />
            {f.title}
          </li>
        ))}
      </ul>
      <div className="-bottom-4 sticky border-rule border-t bg-sheet py-3">
        <Button look="main" onClick={onTake}>
          Take it in as a new build
        </Button>
      </div>
    </>
  );
}

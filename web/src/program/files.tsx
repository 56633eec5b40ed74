import { X } from "lucide-react";
import { type FormEvent, useState } from "react";
import type { Program as Source } from "../api/client";
import { Button } from "../shared/controls";
import { main, nameOf, withFile } from "../shared/source";

const most = 8;

/** The files of a program in C++, one of which is shown. */
export function Files({
  source,
  shown,
  onShow,
  onChange,
}: {
  source: Source;
  shown: string;
  onShow: (name: string) => void;
  onChange: (source: Source) => void;
}) {
  const [name, setName] = useState<string>();
  const files = source.files ?? [];
  const made = nameOf(name ?? "");
  const taken = made === main || files.some((f) => f.name === made);
  const add = (event: FormEvent) => {
    event.preventDefault();
    if (!made || taken) return;
    onChange(withFile(source, made, ""));
    onShow(made);
    setName(undefined);
  };
  return (
    <div className="flex flex-wrap items-center gap-1 border-rule border-b px-3 py-1 font-mono text-small">
      {[main, ...files.map((f) => f.name)].map((file) => (
        <span key={file} className={file === shown ? "border-copper border-b-2" : ""}>
          <button
            type="button"
            aria-pressed={file === shown}
            className="cursor-pointer px-2 py-1.5"
            onClick={() => onShow(file)}
          >
            {file}
          </button>
          {file !== main && file === shown && (
            <button
              type="button"
              aria-label={`Remove ${file}`}
              className="cursor-pointer rounded p-1 align-middle hover:bg-wash"
              onClick={() => {
                onShow(main);
                onChange(withFile(source, file, undefined));
              }}
            >
              <X size={14} aria-hidden />
            </button>
          )}
        </span>
      ))}
      {name === undefined ? (
        files.length < most && (
          <Button look="quiet" className="min-h-0! px-2 py-1" onClick={() => setName("")}>
            + file
          </Button>
        )
      ) : (
        <form onSubmit={add} className="flex items-center gap-2">
          <input
            // biome-ignore lint/a11y/noAutofocus: whoever adds a file names it next
            autoFocus
            aria-label="Name of the file"
            value={name}
            maxLength={40}
            placeholder="lamp.h"
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => event.key === "Escape" && setName(undefined)}
            className="w-32 rounded-sheet border border-ink/40 bg-sheet px-2 py-1"
          />
          <Button type="submit" className="min-h-0! px-2 py-1" disabled={!made || taken}>
            Add {made}
          </Button>
          {taken && <span role="alert">There is one of that name.</span>}
        </form>
      )}
    </div>
  );
}

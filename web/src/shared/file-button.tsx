import { type RefObject, useRef } from "react";
import { Button } from "./controls";

/** The browser's own dialog for a file, opened by a click on what the ref leads to. The same file may be given again. */
export function FileInput({
  input,
  spoken,
  accept,
  onFile,
}: {
  input: RefObject<HTMLInputElement | null>;
  /** What a screen reader calls the file. */
  spoken: string;
  accept: string;
  onFile: (file: File) => void;
}) {
  return (
    <input
      ref={input}
      type="file"
      accept={accept}
      aria-label={spoken}
      className="hidden"
      onChange={(event) => {
        const file = event.target.files?.[0];
        event.target.value = "";
        if (file) onFile(file);
      }}
    />
  );
}

/** A button that asks for a file and gives it to whoever wants it. */
export function FileButton({
  words,
  spoken,
  accept,
  onFile,
}: {
  words: string;
  /** What a screen reader calls the file. */
  spoken: string;
  accept: string;
  onFile: (file: File) => void;
}) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button onClick={() => input.current?.click()}>{words}</Button>
      <FileInput input={input} spoken={spoken} accept={accept} onFile={onFile} />
    </>
  );
}

/** What was wrong with something that was not taken. */
export function NotTaken({ wrong }: { wrong: string[] }) {
  if (wrong.length === 0) return null;
  return (
    <div role="alert" className="mb-4 border-stop border-l-4 pl-3">
      Nothing was changed.
      <ul className="list-disc pl-5">
        {wrong.map((w) => (
          <li key={w}>{w}</li>
        ))}
      </ul>
    </div>
  );
}

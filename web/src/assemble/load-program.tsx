import { useState } from "react";
import { Link } from "react-router";
import { useSheet } from "../session/context";
import { Button } from "../shared/controls";
import { saveText } from "../shared/save";
import { fileName } from "../shared/source-file";

/** How the program gets into the board, where that is the step. */
export function LoadProgram() {
  const { view } = useSheet();
  const [copied, setCopied] = useState("");
  const source = view.document.program;
  if (!source) {
    return (
      <p className="my-2">
        There is no program yet.{" "}
        <Link className="underline" to="../program">
          Write one
        </Link>
        , or load one that does nothing.
      </p>
    );
  }
  const copy = () =>
    navigator.clipboard.writeText(source.text).then(
      () => setCopied("It is copied."),
      () => setCopied("This browser does not copy it: save it."),
    );
  return (
    <div className="my-2 space-y-2">
      <div className="flex items-center gap-2">
        <Button onClick={() => saveText(source.text, fileName(source))}>Save {fileName(source)}</Button>
        <Button onClick={() => void copy()}>Copy it</Button>
        <span role="status">{copied}</span>
      </div>
      <ol className="list-decimal space-y-1 pl-5">
        <li>Open it with what you load programs with, and choose the board that lies before you.</li>
        <li>
          Plug the cable in and load it
          {source.language === "cpp" ? "" : "; on a board that shows itself as a drive, put the file there"}.
        </li>
        <li>Unplug the cable again before you go on wiring.</li>
      </ol>
    </div>
  );
}

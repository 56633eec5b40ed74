import { autocompletion, type Completion, completeFromList } from "@codemirror/autocomplete";
import { defaultKeymap, history, historyKeymap } from "@codemirror/commands";
import { cpp } from "@codemirror/lang-cpp";
import { python } from "@codemirror/lang-python";
import {
  bracketMatching,
  HighlightStyle,
  indentOnInput,
  indentUnit,
  syntaxHighlighting,
} from "@codemirror/language";
import { type Diagnostic, lintGutter, lintKeymap, setDiagnostics } from "@codemirror/lint";
import { highlightSelectionMatches, searchKeymap } from "@codemirror/search";
import { Compartment, EditorState } from "@codemirror/state";
import { EditorView, highlightActiveLine, keymap, lineNumbers } from "@codemirror/view";
import { tags } from "@lezer/highlight";
import { useEffect, useRef } from "react";
import type { Level } from "../api/client";

/** Something to say about a line. */
export interface Remark {
  line: number;
  level: Level;
  text: string;
}

// Our own colours, by the sheet's: what is fixed is in ink, what is said is in the accent.
const colours = HighlightStyle.define([
  { tag: [tags.keyword, tags.modifier, tags.controlKeyword], color: "var(--copper)", fontWeight: "600" },
  { tag: [tags.typeName, tags.standard(tags.name)], color: "var(--copper)" },
  { tag: [tags.number, tags.bool, tags.null], color: "var(--good)", fontWeight: "600" },
  { tag: [tags.string, tags.character, tags.special(tags.string)], color: "var(--good)" },
  { tag: [tags.comment, tags.processingInstruction, tags.meta], color: "var(--faint)", fontStyle: "italic" },
  { tag: tags.invalid, color: "var(--stop)" },
]);

// The marks beside the lines: the shapes of stop, care and note, as everywhere.
const mark = (path: string, fill: string) =>
  `url("data:image/svg+xml,${encodeURIComponent(`<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 24 24'><path fill='${fill}' d='${path}'/></svg>`)}")`;

const look = EditorView.theme({
  ".cm-lint-marker-error": { content: mark("M7 2h10l5 5v10l-5 5H7l-5-5V7z", "#b5372f") },
  ".cm-lint-marker-warning": { content: mark("M12 1l11 11-11 11L1 12z", "#a97412") },
  ".cm-lint-marker-info": { content: mark("M12 3a9 9 0 1 1 0 18a9 9 0 0 1 0-18z", "#7a838c") },
  "&": { height: "100%", color: "var(--ink)", backgroundColor: "var(--sheet)", fontSize: "1rem" },
  ".cm-scroller": { fontFamily: "var(--font-mono)", lineHeight: "1.5" },
  ".cm-content": { caretColor: "var(--copper)", padding: "0.5rem 0" },
  ".cm-gutters": { backgroundColor: "var(--wash)", color: "var(--faint)", border: "none" },
  ".cm-activeLine, .cm-activeLineGutter": {
    backgroundColor: "color-mix(in srgb, var(--wash) 55%, transparent)",
  },
  "&.cm-focused .cm-selectionBackground, .cm-selectionBackground, ::selection": {
    backgroundColor: "color-mix(in srgb, var(--copper) 28%, transparent)",
  },
  ".cm-cursor": { borderLeftColor: "var(--copper)", borderLeftWidth: "2px" },
  "&.cm-focused": { outline: "3px solid var(--copper)", outlineOffset: "-3px" },
  ".cm-tooltip": { backgroundColor: "var(--paper)", color: "var(--ink)", border: "1px solid var(--faint)" },
  ".cm-tooltip-autocomplete > ul > li[aria-selected]": {
    backgroundColor: "var(--copper)",
    color: "var(--sheet)",
  },
  ".cm-diagnostic": { fontFamily: "var(--font-sans)", fontSize: "1rem" },
  ".cm-diagnostic-error": { borderLeft: "4px solid var(--stop)" },
  ".cm-diagnostic-warning": { borderLeft: "4px solid var(--care)" },
  ".cm-diagnostic-info": { borderLeft: "4px solid var(--faint)" },
  ".cm-lintRange-error, .cm-lintRange-warning, .cm-lintRange-info": {
    backgroundImage: "none",
    textDecoration: "underline wavy 1.5px",
    textUnderlineOffset: "4px",
  },
  ".cm-lintRange-error": { textDecorationColor: "var(--stop)" },
  ".cm-lintRange-warning": { textDecorationColor: "var(--care)" },
  ".cm-lintRange-info": { textDecorationColor: "var(--faint)" },
});

const severity = { stop: "error", care: "warning", note: "info", "": "info" } as const;

const nonce = document.querySelector<HTMLMetaElement>('meta[property="csp-nonce"]')?.nonce ?? "";

interface EditorProps {
  text: string;
  language: "cpp" | "python-board" | "python-machine";
  remarks: Remark[];
  names: Completion[];
  /** The line to show and stand on; a new object each time. */
  go: { line: number } | undefined;
  onChange: (text: string) => void;
  onLeave: () => void;
}

/** The text of a program. Tab leaves it, as the browser's fields do; Ctrl+] and Ctrl+[ move lines in and out. */
export function Editor({ text, language, remarks, names, go, onChange, onLeave }: EditorProps) {
  const place = useRef<HTMLDivElement>(null);
  const view = useRef<EditorView>(undefined);
  const heard = useRef({ onChange, onLeave });
  heard.current = { onChange, onLeave };
  const parts = useRef({ language: new Compartment(), names: new Compartment() });

  useEffect(() => {
    if (!place.current) return;
    const editor = new EditorView({
      parent: place.current,
      state: EditorState.create({
        doc: "",
        extensions: [
          EditorView.cspNonce.of(nonce),
          lineNumbers(),
          history(),
          indentOnInput(),
          bracketMatching(),
          highlightActiveLine(),
          highlightSelectionMatches(),
          lintGutter(),
          syntaxHighlighting(colours),
          look,
          keymap.of([...defaultKeymap, ...historyKeymap, ...searchKeymap, ...lintKeymap]),
          parts.current.language.of([]),
          parts.current.names.of([]),
          EditorView.contentAttributes.of({ "aria-label": "The program", tabindex: "0" }),
          EditorView.updateListener.of((update) => {
            if (update.docChanged && !update.transactions.some((t) => t.isUserEvent("set"))) {
              heard.current.onChange(update.state.doc.toString());
            }
          }),
          EditorView.domEventHandlers({ blur: () => heard.current.onLeave() }),
        ],
      }),
    });
    view.current = editor;
    return () => editor.destroy();
  }, []);

  useEffect(() => {
    view.current?.dispatch({
      effects: parts.current.language.reconfigure(
        language === "cpp" ? [cpp(), indentUnit.of("  ")] : [python(), indentUnit.of("    ")],
      ),
    });
  }, [language]);

  useEffect(() => {
    view.current?.dispatch({
      effects: parts.current.names.reconfigure(autocompletion({ override: [completeFromList(names)] })),
    });
  }, [names]);

  // What came from elsewhere takes the place of what stands here, as far as it differs.
  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const now = editor.state.doc.toString();
    if (now === text) return;
    let from = 0;
    while (from < now.length && from < text.length && now[from] === text[from]) from++;
    let end = 0;
    while (end < now.length - from && end < text.length - from && now.at(-1 - end) === text.at(-1 - end))
      end++;
    editor.dispatch({
      changes: { from, to: now.length - end, insert: text.slice(from, text.length - end) },
      userEvent: "set",
    });
  }, [text]);

  useEffect(() => {
    const editor = view.current;
    if (!editor) return;
    const doc = editor.state.doc;
    const diagnostics = remarks
      .filter((r) => r.line >= 1 && r.line <= doc.lines)
      .map((r): Diagnostic => {
        const line = doc.line(r.line);
        const indent = line.text.length - line.text.trimStart().length;
        return { from: line.from + indent, to: line.to, severity: severity[r.level ?? ""], message: r.text };
      })
      .sort((a, b) => a.from - b.from);
    editor.dispatch(setDiagnostics(editor.state, diagnostics));
  }, [remarks]);

  useEffect(() => {
    const editor = view.current;
    if (!editor || !go || go.line < 1 || go.line > editor.state.doc.lines) return;
    const line = editor.state.doc.line(go.line);
    editor.dispatch({
      selection: { anchor: line.from },
      effects: EditorView.scrollIntoView(line.from, { y: "center" }),
    });
    editor.focus();
  }, [go]);

  return <div ref={place} className="min-h-0 grow overflow-hidden" />;
}

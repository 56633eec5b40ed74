import Markdown, { type Components } from "react-markdown";

/** What of Markdown a note may have. Tags are shown as they were typed, and links that are no addresses lead nowhere. */
const allowed = [
  "p",
  "strong",
  "em",
  "ul",
  "ol",
  "li",
  "code",
  "pre",
  "a",
  "br",
  "blockquote",
  "h1",
  "h2",
  "h3",
];

const Heading: Components["h1"] = ({ children }) => <p className="mt-2 font-semibold">{children}</p>;

const shown: Components = {
  p: ({ children }) => <p className="whitespace-pre-line">{children}</p>,
  ul: ({ children }) => <ul className="list-disc pl-6">{children}</ul>,
  ol: ({ children }) => <ol className="list-decimal pl-6">{children}</ol>,
  code: ({ children }) => <code className="bg-wash px-1 font-mono">{children}</code>,
  pre: ({ children }) => <pre className="overflow-x-auto bg-wash p-2 font-mono text-small">{children}</pre>,
  blockquote: ({ children }) => <blockquote className="border-rule border-l-4 pl-3">{children}</blockquote>,
  a: ({ children, href }) => (
    <a href={href} rel="noreferrer noopener" target="_blank" className="text-copper underline">
      {children}
    </a>
  ),
  h1: Heading,
  h2: Heading,
  h3: Heading,
};

/** The text of a note, with its little Markdown. */
export function NoteText({ text }: { text: string }) {
  return (
    <div className="space-y-1 break-words">
      <Markdown allowedElements={allowed} unwrapDisallowed components={shown}>
        {text}
      </Markdown>
    </div>
  );
}
